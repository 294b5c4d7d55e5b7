/* watched.c - the last seconds of what was watched, drawn as a play is. */
#include "watched.h"

#include "uvrek/sheet.h"

#include <stdio.h>

#define SHOWN_US          5000000u        /* what still reads well on a page */
#define KEPT_US           (12 * SHOWN_US) /* a key may have been down for so long */
#define FORGOTTEN_AT_ONCE 1000u

struct watched {
    const struct uvk_program *program;
    GArray *moments;  /* of struct uvk_moment, the oldest first */
    uint64_t contact; /* microseconds of the latest contact, */
    gint64 heard;     /* and when that was heard of */
};

struct watched *watched_new(const struct uvk_program *program)
{
    struct watched *watched = g_new0(struct watched, 1);

    watched->program = program;
    watched->moments = g_array_new(FALSE, TRUE, sizeof(struct uvk_moment));
    return watched;
}

void watched_free(struct watched *watched)
{
    if (watched != NULL) {
        uvk_moments_free(watched->moments);
        g_free(watched);
    }
}

static bool has_combo(const struct watched *watched, unsigned row)
{
    const struct uvk_combo_text *combo = watched->program->keymap->combos;

    for (; combo != NULL && row > 0; row--) {
        combo = combo->next;
    }
    return combo != NULL;
}

/* What is told from outside may name what this keymap does not have. */
static bool is_known(const struct watched *watched, const struct uvk_live_event *event)
{
    const struct uvk_board *board = watched->program->board;

    return event->kind == UVK_EVENT_DECISION && event->key >= UVK_FIRST_COMBO
               ? has_combo(watched, event->decision.combo)
               : event->key < uvk_board_cells(board);
}

/* A decision says when its key went down, not when it was made: that is told by the clock. */
static uint64_t decided(const struct watched *watched, uint64_t since)
{
    uint64_t later = (uint64_t)(g_get_monotonic_time() - watched->heard);

    return MAX(since, watched->contact + later);
}

static struct uvk_moment *last_of(GArray *moments)
{
    return &g_array_index(moments, struct uvk_moment, moments->len - 1);
}

/* What no picture will show any more goes, many at a time: one may watch all day. */
static void forget_old(struct watched *watched, uint64_t now)
{
    guint old = 0;

    while (old < watched->moments->len &&
           g_array_index(watched->moments, struct uvk_moment, old).time + KEPT_US < now) {
        old++;
    }
    if (old < FORGOTTEN_AT_ONCE) {
        return;
    }
    for (guint i = 0; i < old; i++) {
        g_free(g_array_index(watched->moments, struct uvk_moment, i).text);
    }
    g_array_remove_range(watched->moments, 0, old);
}

void watched_event(struct watched *watched, const struct uvk_live_event *event, uint64_t ms,
                   const char *why)
{
    struct uvk_moment moment = {.time = ms * 1000, .source = event->key};

    if (event->kind == UVK_EVENT_LAYERS || !is_known(watched, event)) {
        return;
    }
    if (event->kind == UVK_EVENT_CONTACT) {
        moment.kind = UVK_MOMENT_TOUCH;
        moment.down = event->on;
        watched->contact = moment.time;
        watched->heard = g_get_monotonic_time();
    } else {
        moment.kind = UVK_MOMENT_DECISION;
        moment.since = moment.time;
        moment.time = decided(watched, moment.time);
        moment.decision = event->decision;
    }
    forget_old(watched, moment.time);
    g_array_append_val(watched->moments, moment);
    last_of(watched->moments)->text = g_strdup(why);
}

static uint64_t last_time(const GArray *moments)
{
    return moments->len > 0 ? g_array_index(moments, struct uvk_moment, moments->len - 1).time
                            : 0;
}

bool watched_draw(const struct watched *watched, const char *path, GError **error)
{
    uint64_t last = last_time(watched->moments);
    struct uvk_play play = {.name = "what was watched"};
    const struct uvk_outcome outcome = {.play = &play,
                                        .moments = watched->moments,
                                        .start = last - MIN(last, SHOWN_US),
                                        .time = last};

    if (!uvk_timeline_draw(watched->program, &outcome, path, error)) {
        return false;
    }
    fprintf(stderr, "%s shows %s%.1f s\n", path, last > SHOWN_US ? "the last " : "",
            (double)(last - outcome.start) / 1e6);
    return true;
}
