/* staging.c - what is to change: gathered, looked at, in force, kept. */
#include "lit.h"
#include "live.h"
#include "outputs.h"
#include "uvrek/journal.h"
#include "uvrek/port.h"

#include <string.h>

#if UVK_USE_LIVE

static UVK_ONE_COPY void enter(struct uvk_staging *staging, enum uvk_staged state)
{
    staging->state = (uint8_t)state;
    staging->ms = 0;
    staging->refused = UVK_REFUSED_NOT;
}

static void refuse(struct uvk_staging *staging, enum uvk_refused why)
{
    enter(staging, UVK_STAGED_REFUSED);
    staging->refused = (uint8_t)why;
}

/* The changes that are not in force. */
static UVK_ONE_COPY struct uvk_changes *other_of(struct uvk_staging *staging)
{
    return &staging->changes[staging->present == 0];
}

/* ---- in force --------------------------------------------------------------------------- */

/* The image as CHANGES have it; with none of them it is read as it is built in. */
static void use_image(struct uvk_engine *engine, const struct uvk_image *image)
{
    engine->image = *image;
    if (uvk_changes_used(image->changes) == 0) {
        engine->image.changes = (const struct uvk_changes *)0;
    }
    uvk_settings_read(engine);
    uvk_lights_reload(engine);
    uvk_layers_settle(engine);
}

static void take_effect(struct uvk_engine *engine)
{
    struct uvk_staging *staging = &engine->door.staging;

    staging->present = staging->present == 0;
    staging->other = false;
    use_image(engine, &staging->check.image);
    enter(staging, UVK_STAGED_TAKEN);
}

/* ---- what is staged --------------------------------------------------------------------- */

enum uvk_door_answer uvk_staging_write(struct uvk_engine *engine, uint16_t at,
                                       const uint8_t *bytes, uint8_t count)
{
    struct uvk_staging *staging = &engine->door.staging;

    if (at > uvk_image_room(&engine->image) - (uint16_t)count) {
        return UVK_DOOR_NO_ROOM;
    }
    memcpy(other_of(staging)->room + at, bytes, count);
    enter(staging, UVK_STAGED_NOTHING);
    return UVK_DOOR_DONE;
}

/* What is staged is going to be looked at. */
static void look_at(struct uvk_engine *engine, const struct uvk_changes *changes)
{
    struct uvk_staging *staging = &engine->door.staging;

    if (uvk_image_open_changed(&staging->check.image, &engine->image, changes) != UVK_OK) {
        refuse(staging, UVK_REFUSED_TABLE);
        return;
    }
    uvk_check_begin(&staging->check);
    enter(staging, UVK_STAGED_CHECKING);
}

/* Could it be changes of this image at all? Then it is looked at. */
static enum uvk_door_answer take_staged(struct uvk_engine *engine)
{
    struct uvk_staging *staging = &engine->door.staging;
    struct uvk_changes *changes = other_of(staging);

    enter(staging, UVK_STAGED_NOTHING);
    if (changes->base != staging->changes[staging->present].base) {
        return UVK_DOOR_OTHER_IMAGE;
    }
    if (!uvk_changes_fit(changes, uvk_image_room(&engine->image))) {
        return UVK_DOOR_NO_ROOM;
    }
    look_at(engine, changes);
    return UVK_DOOR_DONE;
}

enum uvk_door_answer uvk_staging_take(struct uvk_engine *engine, const uint8_t *head)
{
    memcpy(&other_of(&engine->door.staging)->base, head, UVK_CHANGES_HEAD - 4u);
    return take_staged(engine);
}

/* Nothing of it has to be looked at. */
void uvk_staging_forget(struct uvk_engine *engine)
{
    struct uvk_staging *staging = &engine->door.staging;
    struct uvk_changes *changes = other_of(staging);

    uvk_changes_clear(changes, engine->image.bytes);
    (void)uvk_image_open_changed(&staging->check.image, &engine->image, changes);
    enter(staging, UVK_STAGED_WAITING);
}

static void check_on(struct uvk_staging *staging, uint16_t rows)
{
    switch (uvk_check_go(&staging->check, rows)) {
    case UVK_CHECK_GOOD:
        enter(staging, UVK_STAGED_WAITING);
        break;
    case UVK_CHECK_BAD_SUM:
        refuse(staging, UVK_REFUSED_SUM);
        break;
    case UVK_CHECK_BAD_VALUE:
        refuse(staging, UVK_REFUSED_VALUE);
        break;
    default:
        break;
    }
}

/* ---- what is kept ----------------------------------------------------------------------- */

#if UVK_USE_JOURNAL
/* What is kept is looked at as if it had just come; False: nothing is kept. */
static bool read_kept(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_staging *staging = &engine->door.staging;
    struct uvk_changes *changes = other_of(staging);

    if (uvk_journal_get(engine->door.setup.journal, port, UVK_RECORD_CHANGES,
                        uvk_changes_bytes(changes),
                        UVK_CHANGES_HEAD + UVK_LIVE_ROOM) < UVK_CHANGES_HEAD) {
        return false;
    }
    staging->changes[staging->present].serial = changes->serial;
    staging->other = take_staged(engine) == UVK_DOOR_OTHER_IMAGE;
    while (staging->state == UVK_STAGED_CHECKING) {
        check_on(staging, UVK_CHECK_ROWS);
    }
    if (staging->state == UVK_STAGED_WAITING) {
        take_effect(engine);
    }
    return true;
}

/* A keyboard without one gets a serial number. */
static void make_serial(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_changes *changes = engine->door.staging.changes;

    for (uint8_t i = 0; i < sizeof changes->serial; i++) {
        ((uint8_t *)&changes->serial)[i] = uvk_consent_noise(engine, port);
    }
    changes[1].serial = changes[0].serial;
    engine->door.staging.unkept = true;
}
#endif

void uvk_staging_start(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_changes *changes = engine->door.staging.changes;

    uvk_changes_clear(&changes[0], engine->image.bytes);
    uvk_changes_clear(&changes[1], engine->image.bytes);
#if UVK_USE_JOURNAL
    if (engine->door.setup.journal != NULL && !read_kept(engine, port)) {
        make_serial(engine, port);
    }
#else
    (void)port;
#endif
}

bool uvk_staging_is_kept(const struct uvk_engine *engine)
{
#if UVK_USE_JOURNAL
    const struct uvk_journal *journal = engine->door.setup.journal;

    return journal == NULL || (!engine->door.staging.unkept && uvk_journal_is_idle(journal));
#else
    (void)engine;
    return true;
#endif
}

static void keep(struct uvk_engine *engine)
{
#if UVK_USE_JOURNAL
    struct uvk_staging *staging = &engine->door.staging;
    struct uvk_changes *changes = &staging->changes[staging->present];

    if (staging->unkept && engine->door.setup.journal != NULL &&
        uvk_journal_put_long(engine->door.setup.journal, UVK_RECORD_CHANGES,
                             uvk_changes_bytes(changes), uvk_changes_size(changes))) {
        staging->unkept = false;
    }
#else
    (void)engine;
#endif
}

bool uvk_staging_spare(struct uvk_engine *engine)
{
    struct uvk_staging *staging = &engine->door.staging;

    if (staging->state != UVK_STAGED_CHECKING) {
        return false;
    }
    check_on(staging, 1);
    return true;
}

void uvk_staging_tick(struct uvk_engine *engine)
{
    struct uvk_staging *staging = &engine->door.staging;

    if (staging->state == UVK_STAGED_CHECKING) {
        check_on(staging, UVK_CHECK_ROWS);
    }
    if (staging->state == UVK_STAGED_WAITING) {
        if (uvk_engine_idle(engine)) {
            take_effect(engine);
            staging->unkept = true;
        } else if (++staging->ms >= UVK_DOOR_HELD_MS) {
            refuse(staging, UVK_REFUSED_HELD);
        }
    }
    keep(engine);
}

#endif
