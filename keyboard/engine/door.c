/* door.c - what the desk may ask a running keyboard, and what it answers. */
#include "lit.h"
#include "live.h"
#include "uvrek/journal.h"
#include "uvrek/port.h"

#include <string.h>

#if UVK_USE_LIVE

#define AT_NUMBER  0u
#define AT_CODE    1u
#define AT_CONTENT 2u

#define WRITE_A_REPORT 27u

/* The host has fetched the answer by then. */
#define LEAVES_MS 50u

static uint16_t get16(const uint8_t *at)
{
    return (uint16_t)(at[0] | at[1] << 8);
}

/* A probe has nothing to hide. */
static bool is_open(const struct uvk_engine *engine)
{
    return UVK_USE_PROBE || engine->door.consent.state == UVK_DOOR_IS_OPEN;
}

static UVK_ONE_COPY const struct uvk_changes *present(const struct uvk_engine *engine)
{
    return &engine->door.staging.changes[engine->door.staging.present];
}

/* ---- who are you ------------------------------------------------------------------------ */

static uint8_t flags_of(const struct uvk_engine *engine)
{
    uint8_t flags = engine->door.staging.other ? UVK_DOOR_KEEPS_OTHER : 0;

#if UVK_USE_LINK
    if (engine->pair.linked) {
        flags |= UVK_DOOR_IS_HALF;
        if (engine->pair.second) {
            flags |= UVK_DOOR_IS_SECOND;
        }
        if (engine->pair.silence < UVK_HALF_GONE) {
            flags |= UVK_DOOR_HAS_OTHER;
        }
    }
#endif
    return flags;
}

/* Protocol, image format, state, flags; what is built in and what is changed, as struct
 * uvk_changes has it, up to the words; then features, board, room. */
static void tell_who(const struct uvk_engine *engine, uint8_t *out)
{
    const struct uvk_changes *changes = present(engine);
    const struct uvk_door_setup *setup = &engine->door.setup;
    uint16_t room = uvk_image_room(&engine->image);

    out[0] = UVK_DOOR_VERSION << 4 | UVK_IMAGE_VERSION;
    out[1] = (uint8_t)((uint8_t)uvk_door_state(engine) | flags_of(engine) << 4);
    memcpy(out + 2, &changes->built, sizeof changes->built);
    memcpy(out + 4, &changes->serial, UVK_CHANGES_HEAD);
    memcpy(out + 20, &setup->features, sizeof setup->features);
    memcpy(out + 24, &setup->board, sizeof setup->board);
    memcpy(out + 26, &room, sizeof room);
}

/* Piece NUMBER of the note. */
static void tell_note(const struct uvk_engine *engine, uint8_t number, uint8_t *out)
{
    uint16_t at = (uint16_t)(number * UVK_DOOR_CONTENT);

    for (uint8_t i = 0; i < UVK_DOOR_CONTENT && at < engine->door.setup.note_size; i++, at++) {
        out[i] = engine->door.setup.note[at];
    }
}

static enum uvk_door_answer who(const struct uvk_engine *engine, uint8_t page, uint8_t *out)
{
    if (page == 0) {
        tell_who(engine, out);
    } else {
        tell_note(engine, (uint8_t)(page - 1u), out);
    }
    return UVK_DOOR_DONE;
}

/* ---- consent ---------------------------------------------------------------------------- */

static enum uvk_door_answer tell_asked(const struct uvk_engine *engine, uint8_t *out)
{
    const struct uvk_consent *consent = &engine->door.consent;

    out[0] = consent->state;
    out[1] = consent->ended;
    out[2] = consent->pressed;
    if (consent->state == UVK_DOOR_ASKS) {
        memcpy(out + 3, consent->keys, UVK_DOOR_KEYS);
        out[3 + UVK_DOOR_KEYS] = (uint8_t)(UVK_DOOR_ASKS_S - consent->seconds);
    }
    return UVK_DOOR_DONE;
}

static enum uvk_door_answer ask(struct uvk_engine *engine, uint8_t *out)
{
    if (!is_open(engine)) {
        uvk_consent_ask(engine);
    }
    return tell_asked(engine, out);
}

/* The next pass picks another one. */
static enum uvk_door_answer skip(struct uvk_engine *engine, uint8_t *out)
{
    if (engine->door.consent.state != UVK_DOOR_ASKS) {
        return UVK_DOOR_NONSENSE;
    }
    engine->door.consent.skips = true;
    return tell_asked(engine, out);
}

/* ---- reading and changing ---------------------------------------------------------------- */

/* Of the built-in image, or of what is kept: from where, how many. */
static enum uvk_door_answer read_bytes(struct uvk_engine *engine, const uint8_t *content,
                                       uint8_t *out)
{
    struct uvk_staging *staging = &engine->door.staging;
    struct uvk_changes *changes = &staging->changes[staging->present];
    const uint8_t *kept = uvk_changes_bytes(changes);
    bool built = content[0] == UVK_DOOR_BUILT;
    uint16_t size = built ? changes->built : uvk_changes_size(changes);
    uint16_t at = get16(content + 1);
    uint8_t count = content[3];

    if (count > UVK_DOOR_CONTENT || count > size || at > size - count) {
        return UVK_DOOR_NONSENSE;
    }
    for (; count > 0; count--, at++) {
        *out++ = built ? engine->image.bytes[at] : kept[at];
    }
    return UVK_DOOR_DONE;
}

/* Where in the room, how many bytes, and those. */
static enum uvk_door_answer write_room(struct uvk_engine *engine, const uint8_t *content)
{
    return content[2] > WRITE_A_REPORT
               ? UVK_DOOR_NONSENSE
               : uvk_staging_write(engine, get16(content), content + 3, content[2]);
}

static enum uvk_door_answer tell_staged(const struct uvk_engine *engine, uint8_t *out)
{
    const struct uvk_staging *staging = &engine->door.staging;

    out[0] = staging->state;
    out[1] = staging->refused;
    out[2] = uvk_staging_is_kept(engine);
    out[3] = staging->check.stage;
    memcpy(out + 4, &staging->check.row, sizeof staging->check.row);
    return UVK_DOOR_DONE;
}

static enum uvk_door_answer leave(struct uvk_engine *engine, uint8_t code)
{
    engine->door.leaves = code;
    engine->door.leaves_ms = LEAVES_MS;
    return UVK_DOOR_DONE;
}

/* What kind, which, red, green, blue, for how many seconds. */
static enum uvk_door_answer show_light(struct uvk_engine *engine, const uint8_t *content)
{
#if UVK_USE_LIGHTS
    struct uvk_colour colour;

    colour.red = content[2];
    colour.green = content[3];
    colour.blue = content[4];
    if (content[0] >= UVK_SHOWN_KINDS) {
        return UVK_DOOR_NONSENSE;
    }
    uvk_lights_show(engine, (enum uvk_light_shown)content[0], content[1], colour, content[5]);
    return UVK_DOOR_DONE;
#else
    (void)engine;
    (void)content;
    return UVK_DOOR_UNKNOWN;
#endif
}

/* ---- which is which --------------------------------------------------------------------- */

/* What everybody may ask. */
static enum uvk_door_answer answer_anybody(struct uvk_engine *engine, uint8_t code,
                                           const uint8_t *content, uint8_t *out)
{
    switch (code) {
    case UVK_DOOR_WHO:
        return who(engine, content[0], out);
    case UVK_DOOR_OPEN:
        return ask(engine, out);
    case UVK_DOOR_ASKED:
        return tell_asked(engine, out);
    case UVK_DOOR_SKIP:
        return skip(engine, out);
    case UVK_DOOR_CLOSE:
        uvk_consent_close(engine);
        return UVK_DOOR_DONE;
    default:
        return code < UVK_DOOR_REQUESTS && code > 0 ? UVK_DOOR_IS_CLOSED : UVK_DOOR_UNKNOWN;
    }
}

static enum uvk_door_answer answer_trusted(struct uvk_engine *engine, uint8_t code,
                                           const uint8_t *content, uint8_t *out)
{
    engine->door.consent.seconds = 0;
    switch (code) {
    case UVK_DOOR_READ:
        return read_bytes(engine, content, out);
    case UVK_DOOR_WRITE:
        return write_room(engine, content);
    case UVK_DOOR_TAKE:
        return uvk_staging_take(engine, content);
    case UVK_DOOR_STAGED:
        return tell_staged(engine, out);
    case UVK_DOOR_FORGET:
        uvk_staging_forget(engine);
        return UVK_DOOR_DONE;
    case UVK_DOOR_WATCH:
        uvk_watching_set(engine, content[0]);
        return UVK_DOOR_DONE;
    case UVK_DOOR_RESTART:
    case UVK_DOOR_BOOTLOADER:
        return leave(engine, code);
    case UVK_DOOR_LIGHT:
        return show_light(engine, content);
    default:
        return UVK_DOOR_UNKNOWN;
    }
}

UVK_ONE_COPY bool uvk_door_is_free(const struct uvk_engine *engine)
{
    return engine->door.on && !engine->door.answers;
}

void uvk_door_take(struct uvk_engine *engine, const uint8_t *request)
{
    struct uvk_door *door = &engine->door;
    uint8_t code = request[AT_CODE];
    enum uvk_door_answer answer;

    memset(door->answer, 0, sizeof door->answer);
    answer =
        code > UVK_DOOR_CLOSE && is_open(engine)
            ? answer_trusted(engine, code, request + AT_CONTENT, door->answer + AT_CONTENT)
            : answer_anybody(engine, code, request + AT_CONTENT, door->answer + AT_CONTENT);
    door->answer[AT_NUMBER] = request[AT_NUMBER];
    door->answer[AT_CODE] = (uint8_t)answer;
    door->answers = true;
}

bool uvk_door_next(struct uvk_engine *engine, uint8_t out[UVK_DOOR_BYTES])
{
    struct uvk_door *door = &engine->door;

    if (!door->answers) {
        return uvk_watching_next(engine, out);
    }
    memcpy(out, door->answer, UVK_DOOR_BYTES);
    door->answers = false;
    return true;
}

/* ---- from pass to pass ------------------------------------------------------------------ */

UVK_ONE_COPY void uvk_door_start(struct uvk_engine *engine, struct uvk_port *port,
                                 const struct uvk_door_setup *setup)
{
    memset(&engine->door, 0, sizeof engine->door);
    engine->door.setup = *setup;
    if (uvk_image_room(&engine->image) == 0) {
        return;
    }
    engine->door.on = true;
    engine->door.consent.noise = 1; /* of zeros alone nothing can be mixed */
    uvk_staging_start(engine, port);
}

static void go_where_told(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_door *door = &engine->door;

    if (door->leaves == 0 || --door->leaves_ms > 0) {
        return;
    }
    if (door->leaves == UVK_DOOR_BOOTLOADER) {
        uvk_port_enter_bootloader(port);
    } else {
        uvk_port_restart(port, false);
    }
    door->leaves = 0;
}

UVK_ONE_COPY void uvk_door_tick(struct uvk_engine *engine, struct uvk_port *port)
{
    if (!engine->door.on) {
        return;
    }
    uvk_consent_tick(engine, port);
    uvk_staging_tick(engine);
    uvk_watching_tick(engine);
    go_where_told(engine, port);
}

bool uvk_door_spare(struct uvk_engine *engine)
{
    return engine->door.on && uvk_staging_spare(engine);
}

uint32_t uvk_door_serial(const struct uvk_engine *engine)
{
    return present(engine)->serial;
}

enum uvk_door_state uvk_door_state(const struct uvk_engine *engine)
{
    return is_open(engine) ? UVK_DOOR_IS_OPEN : (enum uvk_door_state)engine->door.consent.state;
}

void uvk_door_close(struct uvk_engine *engine)
{
    uvk_consent_close(engine);
}

#endif
