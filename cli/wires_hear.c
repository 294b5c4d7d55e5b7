/* wires_hear.c - what a probe tells of one press, and what is typed meanwhile. */
#include "asking.h"

#include "events.h"

#include <stdio.h>
#include <string.h>
#include <unistd.h>

#define LOOK_MS  20u
#define START_MS 400 /* what conducts with no key down has been told by then */
#define LATE_S   60

/* ---- what conducts ----------------------------------------------------------------------- */

static int find(const GArray *list, const struct uvk_conducts *pair)
{
    for (guint i = 0; i < list->len; i++) {
        const struct uvk_conducts *other = &g_array_index(list, struct uvk_conducts, i);
        if (other->low == pair->low && other->high == pair->high) {
            return (int)i;
        }
    }
    return -1;
}

static void add(GArray *list, const struct uvk_conducts *pair)
{
    if (find(list, pair) < 0) {
        g_array_append_vals(list, pair, 1);
    }
}

static void take_away(GArray *list, const struct uvk_conducts *pair)
{
    int at = find(list, pair);

    if (at >= 0) {
        g_array_remove_index(list, (guint)at);
    }
}

/* False: the probe speaks of pins that the chip does not have. */
bool hearing_pair(const struct hearing *hearing, const struct uvk_live_event *event,
                  struct uvk_conducts *pair)
{
    const struct uvk_chip *chip = hearing->chip;

    pair->low = event->key < chip->pin_count ? &chip->pins[event->key] : NULL;
    pair->high = event->sense < chip->pin_count ? &chip->pins[event->sense] : NULL;
    return event->kind == UVK_EVENT_SWITCH && event->key <= chip->pin_count &&
           pair->high != NULL;
}

static void note_ground(struct hearing *hearing, const struct uvk_conducts *pair, bool on)
{
    uint64_t bit = (uint64_t)1 << (pair->high - hearing->chip->pins);

    if (pair->low == NULL) {
        hearing->grounded = on ? hearing->grounded | bit : hearing->grounded & ~bit;
    }
}

static void take_event(struct hearing *hearing, const struct uvk_live_event *event)
{
    struct uvk_conducts pair;

    if (!hearing_pair(hearing, event, &pair)) {
        return;
    }
    note_ground(hearing, &pair, event->on);
    if (event->before) {
        add(hearing->background, &pair);
    } else if (!event->on) {
        take_away(hearing->background, &pair);
        take_away(hearing->closed, &pair);
    } else if (find(hearing->background, &pair) < 0) {
        add(hearing->closed, &pair);
        if (hearing->press->len < UVK_CONDUCTS_MAX) {
            add(hearing->press, &pair);
        }
    }
}

/* The next event, waited for up to LOOK_MS. As uvk_live_next. */
int hearing_next(struct hearing *hearing, struct uvk_live_event *event, GError **error)
{
    int come = uvk_live_next(hearing->live, LOOK_MS, event, error);

    if (come > 0 && events_take(&hearing->events, event) > 0) {
        g_array_set_size(hearing->closed, 0); /* what came up may be among what was lost */
    }
    if (come > 0) {
        take_event(hearing, event);
    }
    return come;
}

/* What conducts with no key down comes first. */
static bool listen(struct hearing *hearing, GError **error)
{
    gint64 end = g_get_monotonic_time() + START_MS * (gint64)1000;
    struct uvk_live_event event;

    if (!uvk_live_watch(hearing->live, 1u << UVK_EVENT_SWITCH | UVK_WATCH_KEEPS, error)) {
        return false;
    }
    while (g_get_monotonic_time() < end) {
        if (hearing_next(hearing, &event, error) < 0) {
            return false;
        }
    }
    return true;
}

bool hearing_begin(struct hearing *hearing, struct uvk_live *live, const struct uvk_chip *chip,
                   GError **error)
{
    memset(hearing, 0, sizeof *hearing);
    hearing->live = live;
    hearing->chip = chip;
    hearing->background = g_array_new(FALSE, TRUE, sizeof(struct uvk_conducts));
    hearing->closed = g_array_new(FALSE, TRUE, sizeof(struct uvk_conducts));
    hearing->press = g_array_new(FALSE, TRUE, sizeof(struct uvk_conducts));
    hearing->typed = g_string_new(NULL);
    events_init(&hearing->events);
    return listen(hearing, error);
}

bool hearing_move(struct hearing *hearing, struct uvk_live *live, GError **error)
{
    hearing->live = live;
    hearing->grounded = 0;
    g_array_set_size(hearing->background, 0);
    g_array_set_size(hearing->closed, 0);
    g_array_set_size(hearing->press, 0);
    events_clear(&hearing->events);
    events_init(&hearing->events);
    return listen(hearing, error);
}

void hearing_end(struct hearing *hearing)
{
    if (hearing->typed != NULL) {
        if (hearing->live != NULL) {
            (void)uvk_live_watch(hearing->live, 0, NULL);
        }
        g_array_unref(hearing->background);
        g_array_unref(hearing->closed);
        g_array_unref(hearing->press);
        g_string_free(hearing->typed, TRUE);
        g_free(hearing->said);
        events_clear(&hearing->events);
    }
}

void hearing_join(const struct hearing *hearing, struct uvk_wiring *wiring)
{
    for (guint i = 0; i < hearing->background->len; i++) {
        const struct uvk_conducts *pair =
            &g_array_index(hearing->background, struct uvk_conducts, i);
        const struct uvk_conducts back = {pair->high, pair->low};
        if (pair->low == NULL) {
            uvk_wiring_ground(wiring, pair->high);
        } else if (find(hearing->background, &back) >= 0) {
            uvk_wiring_join(wiring, pair->low, pair->high);
        }
    }
}

static const char *label(const struct uvk_board *board, const struct uvk_pin *pin)
{
    return pin == NULL ? "ground" : board != NULL ? uvk_pin_label(board, pin) : pin->name;
}

char *hearing_text(const struct hearing *hearing, const struct uvk_board *board)
{
    GString *text = g_string_new("it joins");

    for (guint i = 0; i < hearing->press->len; i++) {
        const struct uvk_conducts *pair =
            &g_array_index(hearing->press, struct uvk_conducts, i);
        g_string_append_printf(text, "%s %s to %s", i > 0 ? "," : "", label(board, pair->high),
                               label(board, pair->low));
    }
    return g_string_free(text, FALSE);
}

/* ---- what is typed ----------------------------------------------------------------------- */

/* Bytes that wait. A program that is started without anybody to type only listens. */
static void read_typed(struct hearing *hearing)
{
    GPollFD input = {STDIN_FILENO, G_IO_IN, 0};
    char bytes[256];
    gssize count;

    if (hearing->ended || g_poll(&input, 1, 0) <= 0) {
        return;
    }
    count = read(STDIN_FILENO, bytes, sizeof bytes);
    if (count <= 0) {
        hearing->ended = true;
    } else {
        g_string_append_len(hearing->typed, bytes, count);
    }
}

/* A line that was typed, as an answer; HEARD_LATE: there is none. */
static enum heard typed_answer(struct hearing *hearing)
{
    char *end;

    read_typed(hearing);
    end = strchr(hearing->typed->str, '\n');
    if (end == NULL) {
        return HEARD_LATE;
    }
    g_free(hearing->said);
    hearing->said =
        g_strstrip(g_strndup(hearing->typed->str, (gsize)(end - hearing->typed->str)));
    g_string_erase(hearing->typed, 0, end - hearing->typed->str + 1);
    return hearing->said[0] == '\0'             ? HEARD_NOTHING
           : strcmp(hearing->said, "back") == 0 ? HEARD_BACK
           : strcmp(hearing->said, "stop") == 0 ? HEARD_STOP
                                                : HEARD_WORDS;
}

enum heard hear_line(struct hearing *hearing)
{
    enum heard heard = HEARD_LATE;

    while (heard == HEARD_LATE) {
        heard = listening_ends() || hearing->ended ? HEARD_STOP : typed_answer(hearing);
        if (heard == HEARD_LATE) {
            g_usleep(LOOK_MS * 1000u);
        }
    }
    return heard;
}

/* ---- answers ----------------------------------------------------------------------------- */

gint64 hearing_until(void)
{
    return g_get_monotonic_time() + LATE_S * (gint64)G_USEC_PER_SEC;
}

/* Goes on while nothing but time has passed. False: *HEARD. */
bool hearing_goes_on(struct hearing *hearing, gint64 end, enum heard *heard)
{
    *heard = listening_ends() ? HEARD_STOP : typed_answer(hearing);
    return *heard == HEARD_LATE && g_get_monotonic_time() < end;
}

enum heard hear_press(struct hearing *hearing, GError **error)
{
    gint64 end = hearing_until();
    struct uvk_live_event event;
    enum heard heard;
    int come = 0;

    /* what went down while something was typed is the next press */
    g_array_set_size(hearing->press, 0);
    g_array_append_vals(hearing->press, hearing->closed->data, hearing->closed->len);
    while (hearing->press->len == 0 || hearing->closed->len > 0) {
        if (!hearing_goes_on(hearing, end, &heard)) {
            return heard;
        }
        come = hearing_next(hearing, &event, error);
        if (come < 0) {
            return HEARD_TROUBLE;
        }
    }
    return HEARD_PRESS;
}

/* Three numbers, and one that was under way: of the keyboard's clock, which may be the slow
 * one. It may say nothing for as long, by ours. */
#define CALLS_MS 2400u
#define SILENT_S 10

enum heard hear_cable(struct hearing *hearing, struct uvk_calls *calls, GError **error)
{
    gint64 end = g_get_monotonic_time() + SILENT_S * (gint64)G_USEC_PER_SEC;
    struct uvk_live_event event;
    struct uvk_conducts pair;
    unsigned heard = 0; /* ms */
    uint16_t at = 0;
    bool begun = false;

    while (heard < CALLS_MS && g_get_monotonic_time() < end) {
        int come = hearing_next(hearing, &event, error);
        if (come < 0 || listening_ends()) {
            return come < 0 ? HEARD_TROUBLE : HEARD_STOP;
        }
        if (come == 0 || !hearing_pair(hearing, &event, &pair) || pair.low != NULL) {
            continue;
        }
        uvk_calls_take(calls, pair.high, event.on, event.ms);
        heard += begun ? (uint16_t)(event.ms - at) : 0u;
        at = event.ms;
        begun = true;
        end = g_get_monotonic_time() + SILENT_S * (gint64)G_USEC_PER_SEC;
    }
    return HEARD_PRESS;
}
