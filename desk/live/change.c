/* change.c - what a running keyboard does, and what it is to do. */
#include "live.h"

#include "uvrek/firmware.h"

#include <string.h>

#define WRITE_MOST  27u
#define LIVE_ITSELF ((uint32_t)1 << 21) /* the feature behind all of UVK_FEATURE_BITS */
#define STEP_US     2000                /* between two questions */
#define TAKE_MS     10000u              /* until a change is in force, or refused */
#define KEPT_MS     30000u              /* until it is kept: the chip may wait for rest */

static bool fail(GError **error, int code, const char *why)
{
    g_set_error(error, UVK_PROBLEM, code, "%s", why);
    return false;
}

/* ---- reading ----------------------------------------------------------------------------- */

/* COUNT bytes of SOURCE, the first of them AT. */
static bool ask_for_bytes(struct uvk_live *live, enum uvk_door_source source, uint16_t at,
                          uint8_t count, GError **error)
{
    const uint8_t content[] = {(uint8_t)source, (uint8_t)at, (uint8_t)(at >> 8), count};

    return talk_on(live, UVK_DOOR_READ, content, sizeof content, error);
}

static uint8_t piece(unsigned size, unsigned done)
{
    return (uint8_t)MIN(size - done, UVK_DOOR_CONTENT);
}

/* While one piece comes the next one is asked for. */
static bool read_bytes(struct uvk_live *live, enum uvk_door_source source, uint16_t at,
                       uint8_t *to, unsigned size, GError **error)
{
    unsigned asked = 0;
    unsigned read = 0;
    bool good = hear_all(live, error);

    while (good && read < size) {
        if (asked < size && under_way(live) < UNDER_WAY_MOST) {
            good =
                ask_for_bytes(live, source, (uint16_t)(at + asked), piece(size, asked), error);
            asked += piece(size, asked);
        } else {
            uint8_t told[UVK_DOOR_CONTENT];
            good = hear_next(live, told, error);
            if (good) {
                memcpy(to + read, told, piece(size, read));
            }
            read += piece(size, read);
        }
    }
    if (!good) {
        (void)hear_all(live, NULL);
    }
    return good;
}

const struct uvk_image *uvk_live_built(struct uvk_live *live, GError **error)
{
    struct uvk_live_facts facts;

    if (live->bytes != NULL) {
        return &live->built;
    }
    if (!uvk_live_who(live, &facts, error)) {
        return NULL;
    }
    live->bytes = g_malloc((size_t)facts.built + 1);
    if (!read_bytes(live, UVK_DOOR_BUILT, 0, live->bytes, facts.built, error)) {
        g_clear_pointer(&live->bytes, g_free);
        return NULL;
    }
    if (uvk_image_open(&live->built, live->bytes, facts.built) != UVK_OK) {
        g_clear_pointer(&live->bytes, g_free);
        (void)fail(error, UVK_NOT_DONE,
                   "the keymap that is in the keyboard makes no sense here");
        return NULL;
    }
    return &live->built;
}

/* All that is kept, looked at as if it came from nowhere. */
static bool read_changes(struct uvk_live *live, GError **error)
{
    struct uvk_changes *changes = &live->changes;
    enum uvk_checked checked = UVK_CHECK_GOES_ON;
    struct uvk_check check;

    uvk_changes_clear(changes, live->bytes);
    if (!read_bytes(live, UVK_DOOR_KEPT, 0, uvk_changes_bytes(changes), UVK_CHANGES_HEAD,
                    error)) {
        return false;
    }
    if (!uvk_changes_fit(changes, uvk_image_room(&live->built))) {
        return fail(error, UVK_NOT_DONE, "the changes in the keyboard make no sense here");
    }
    if (!read_bytes(live, UVK_DOOR_KEPT, UVK_CHANGES_HEAD, changes->room,
                    uvk_changes_used(changes), error)) {
        return false;
    }
    if (uvk_changes_used(changes) == 0) {
        live->present = live->built;
        return true;
    }
    if (uvk_image_open_changed(&live->present, &live->built, changes) == UVK_OK) {
        check.image = live->present;
        uvk_check_begin(&check);
        while (checked == UVK_CHECK_GOES_ON) {
            checked = uvk_check_go(&check, UINT16_MAX);
        }
    }
    return checked == UVK_CHECK_GOOD ||
           fail(error, UVK_NOT_DONE, "the changes in the keyboard make no sense here");
}

const struct uvk_image *uvk_live_image(struct uvk_live *live, GError **error)
{
    return uvk_live_built(live, error) != NULL && read_changes(live, error) ? &live->present
                                                                            : NULL;
}

/* ---- changing ---------------------------------------------------------------------------- */

/* Until one more request can be under way. */
static bool make_way(struct uvk_live *live, GError **error)
{
    while (under_way(live) >= UNDER_WAY_MOST) {
        if (!hear_next(live, NULL, error)) {
            return false;
        }
    }
    return true;
}

/* All of it is under way when this is done, but for what is answered. */
static bool write_room(struct uvk_live *live, const struct uvk_changes *changes, GError **error)
{
    uint16_t used = uvk_changes_used(changes);
    bool good = hear_all(live, error);

    for (uint16_t at = 0; at < used && good;) {
        uint8_t count = (uint8_t)MIN(WRITE_MOST, (unsigned)(used - at));
        uint8_t content[UVK_DOOR_CONTENT] = {(uint8_t)at, (uint8_t)(at >> 8), count};
        memcpy(content + 3, changes->room + at, count);
        good =
            make_way(live, error) && talk_on(live, UVK_DOOR_WRITE, content, 3u + count, error);
        at = (uint16_t)(at + count);
    }
    return good;
}

/* What was written is to be in force. */
static bool take_room(struct uvk_live *live, const struct uvk_changes *changes, GError **error)
{
    return make_way(live, error) &&
           talk_on(live, UVK_DOOR_TAKE, (const uint8_t *)&changes->base, UVK_CHANGES_HEAD - 4u,
                   error) &&
           hear_all(live, error);
}

static bool refused(uint8_t why, GError **error)
{
    static const char *const reasons[] = {
        [UVK_REFUSED_NOT] = "the keyboard has dropped the change",
        [UVK_REFUSED_TABLE] = "the keyboard refuses the change: a table is where none can be",
        [UVK_REFUSED_SUM] = "the change was damaged on its way; try again",
        [UVK_REFUSED_VALUE] = "the keyboard refuses the change: it holds something that its "
                              "firmware does not know",
        [UVK_REFUSED_HELD] = "a key is held, and a change waits until all are up: let go of "
                             "it, and try again",
    };

    return fail(error, UVK_NOT_DONE, reasons[why < G_N_ELEMENTS(reasons) ? why : 0]);
}

/* Until it is in force. */
static bool wait_for_effect(struct uvk_live *live, GError **error)
{
    gint64 end = g_get_monotonic_time() + TAKE_MS * (gint64)1000;
    uint8_t told[UVK_DOOR_CONTENT];

    while (g_get_monotonic_time() < end) {
        if (!talk(live, UVK_DOOR_STAGED, NULL, 0, told, error)) {
            return false;
        }
        if (told[0] == UVK_STAGED_TAKEN) {
            return true;
        }
        if (told[0] != UVK_STAGED_CHECKING && told[0] != UVK_STAGED_WAITING) {
            return refused(told[1], error);
        }
        g_usleep(STEP_US);
    }
    return fail(error, UVK_NOT_DONE, "the keyboard does not take the change");
}

static bool does_not_fit(enum uvk_fit fit, unsigned needed, unsigned room, GError **error)
{
    static const char *const reasons[] = {
        [UVK_FIT_BOARD] = "keys, wires and knobs, and which hand a key is for, are built into "
                          "the firmware, and are others",
        [UVK_FIT_LAYERS] = "the number of layers is another",
        [UVK_FIT_ROOM] = "the room for changes is another",
    };

    if (fit == UVK_FIT_TOO_LARGE) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "this takes %u bytes of the keyboard's room for changes, which is %u; "
                    "`uvrek build` and `uvrek flash` do it",
                    needed, room);
    } else {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "%s; `uvrek build` and `uvrek flash` do it", reasons[fit]);
    }
    return false;
}

/* What WANTED needs has to be built into the firmware. */
static bool is_built_in(struct uvk_live *live, const struct uvk_image *wanted, GError **error)
{
    struct uvk_live_facts facts;
    uint32_t missing;

    if (!uvk_live_who(live, &facts, error)) {
        return false;
    }
    missing = uvk_features_of(wanted) & ~(facts.features | LIVE_ITSELF);
    for (unsigned i = 0; missing != 0; i++, missing >>= 1) {
        if ((missing & 1u) != 0) {
            g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                        "this needs a part that the keyboard's firmware was built without, as "
                        "nothing asked for it: %s; `uvrek build` and `uvrek flash` do it",
                        uvk_feature_name(i));
            return false;
        }
    }
    return true;
}

bool uvk_live_change(struct uvk_live *live, const struct uvk_image *wanted, unsigned *needed,
                     GError **error)
{
    struct uvk_changes *changes = &live->changes;
    enum uvk_fit fit;

    *needed = 0;
    if (uvk_live_built(live, error) == NULL) {
        return false;
    }
    fit = uvk_image_fit(&live->built, wanted, changes, needed);
    if (fit != UVK_FITS) {
        return does_not_fit(fit, *needed, uvk_image_room(&live->built), error);
    }
    if (*needed == 0) {
        return uvk_live_forget(live, error);
    }
    if (!is_built_in(live, wanted, error)) {
        return false;
    }
    if (!write_room(live, changes, error) || !take_room(live, changes, error)) {
        (void)hear_all(live, NULL);
        return false;
    }
    return wait_for_effect(live, error);
}

bool uvk_live_forget(struct uvk_live *live, GError **error)
{
    return talk(live, UVK_DOOR_FORGET, NULL, 0, NULL, error) && wait_for_effect(live, error);
}

bool uvk_live_is_kept(struct uvk_live *live, GError **error)
{
    gint64 end = g_get_monotonic_time() + KEPT_MS * (gint64)1000;
    uint8_t told[UVK_DOOR_CONTENT] = {0};

    while (g_get_monotonic_time() < end) {
        if (!talk(live, UVK_DOOR_STAGED, NULL, 0, told, error)) {
            return false;
        }
        if (told[2] != 0) {
            return true;
        }
        g_usleep(10 * STEP_US);
    }
    return fail(error, UVK_NOT_DONE,
                "the change is in force, but the keyboard has not kept it: it does so when no "
                "key has been down for a second");
}

/* ---- lights ------------------------------------------------------------------------------ */

bool uvk_live_light(struct uvk_live *live, enum uvk_light_shown kind, unsigned lamp,
                    struct uvk_colour colour, unsigned seconds, GError **error)
{
    const uint8_t content[] = {(uint8_t)kind, (uint8_t)lamp, colour.red,
                               colour.green,  colour.blue,   (uint8_t)MIN(seconds, 60u)};

    return talk(live, UVK_DOOR_LIGHT, content, sizeof content, NULL, error);
}

/* ---- watching ---------------------------------------------------------------------------- */

bool uvk_live_watch(struct uvk_live *live, unsigned mask, GError **error)
{
    const uint8_t content = (uint8_t)mask;

    live->keeps = (mask & UVK_WATCH_KEEPS) != 0;
    return talk(live, UVK_DOOR_WATCH, &content, 1, NULL, error);
}

#define STAY_US (UVK_DOOR_KEEPS_S * G_USEC_PER_SEC / 3)

/* A keyboard that keeps presses from everybody else has to hear that we are still here. Nothing
 * is read. */
static bool stay(struct uvk_live *live, GError **error)
{
    const uint8_t content[4] = {UVK_DOOR_BUILT, 0, 0, 0};

    return !live->keeps || g_get_monotonic_time() - live->asked < (gint64)STAY_US ||
           talk(live, UVK_DOOR_READ, content, sizeof content, NULL, error);
}

int uvk_live_next(struct uvk_live *live, unsigned ms, struct uvk_live_event *event,
                  GError **error)
{
    struct uvk_live_event *first;

    if (!stay(live, error) || (g_queue_is_empty(live->events) && !listen(live, ms, error))) {
        return -1;
    }
    first = g_queue_pop_head(live->events);
    if (first == NULL) {
        return 0;
    }
    *event = *first;
    g_free(first);
    return 1;
}
