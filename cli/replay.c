/* replay.c - the fingers of a recording on a simulated keyboard, and what is decided otherwise.
 */
#include "replay.h"

#include "fingers.h"
#include "played.h"

#include "uvrek/live.h"
#include "uvrek/sheet.h"

#include <stdio.h>
#include <string.h>

/* ---- what came of it -------------------------------------------------------------------- */

/* What the keyboard made of each press, this time. */
static GPtrArray *decided(const struct replay *replay, const struct uvk_outcome *outcome)
{
    GPtrArray *touches = recorded_touches();

    for (guint i = 0; i < outcome->moments->len; i++) {
        const struct uvk_moment *moment =
            &g_array_index(outcome->moments, struct uvk_moment, i);
        struct touch *press;
        char *text;
        if (moment->kind == UVK_MOMENT_TOUCH) {
            (void)recorded_add(touches, moment->time, moment->source, moment->down);
        }
        if (moment->kind != UVK_MOMENT_DECISION) {
            continue;
        }
        press = recorded_press(touches, moment->source, moment->since);
        if (press != NULL) {
            text = uvk_live_text(replay->program, replay->image, replay->image,
                                 moment->decision.action);
            recorded_does(press, text);
            g_free(text);
        }
    }
    return touches;
}

/* The next press of CELL from *AT on. */
static const struct touch *next_press(const GPtrArray *touches, unsigned cell, guint *at)
{
    while (*at < touches->len) {
        const struct touch *touch = touches->pdata[(*at)++];
        if (touch->down && touch->cell == cell) {
            return touch;
        }
    }
    return NULL;
}

static const char *does_text(const struct touch *press)
{
    return press->does->len > 0 ? press->does->str : "nothing of its own";
}

static void difference_to_json(json_t *list, const char *name, const struct touch *was,
                               const struct touch *is)
{
    json_t *json = add_object(list);

    put_number(json, "ms", (json_int_t)(was->time / 1000));
    put_text(json, "key", name);
    put_text(json, "recorded", was->does->str);
    put_text(json, "now", is->does->str);
}

static void tell_difference(const struct replay *replay, const struct touch *was,
                            const struct touch *is, json_t *list)
{
    char *name = uvk_source_text(replay->program, was->cell);

    if (list != NULL) {
        difference_to_json(list, name, was, is);
    } else {
        printf("%7u ms  %s did %s, and does %s now\n", (unsigned)(was->time / 1000), name,
               does_text(was), does_text(is));
    }
    g_free(name);
}

/* Each press has happened again, in the same order of each key. Their number that does
 * something else now. */
static unsigned tell_differences(const struct replay *replay, const GPtrArray *before,
                                 const GPtrArray *after, json_t *list)
{
    const struct uvk_board *board = replay->program->board;
    guint *at = g_new0(guint, uvk_board_cells(board));
    unsigned count = 0;

    for (guint i = 0; i < before->len; i++) {
        const struct touch *was = before->pdata[i];
        const struct touch *is =
            was->down ? next_press(after, was->cell, &at[was->cell]) : NULL;
        if (is != NULL && strcmp(was->does->str, is->does->str) != 0) {
            tell_difference(replay, was, is, list);
            count++;
        }
    }
    g_free(at);
    return count;
}

static void print_count(unsigned count)
{
    if (count == 0) {
        puts("each press does what it did when it was recorded");
    } else {
        printf("%u press%s something else than when it was recorded\n", count,
               count == 1 ? " does" : "es do");
    }
}

static void tell_decided(const struct replay *replay, const struct recorded *recorded,
                         const struct uvk_outcome *outcome, json_t *json)
{
    GPtrArray *after = decided(replay, outcome);
    json_t *list = json != NULL ? put_list(json, "otherwise") : NULL;
    unsigned count = tell_differences(replay, recorded->touches, after, list);

    if (json == NULL) {
        print_count(count);
    }
    g_ptr_array_unref(after);
}

static void tell_host(const struct replay *replay, const struct uvk_outcome *outcome,
                      json_t *json)
{
    char *text = uvk_host_take_text(uvk_rig_host(replay->rig));
    char *escaped = uvk_string_text(text);

    if (json != NULL) {
        put_text(json, "recording", replay->path);
        put_number(json, "microseconds", (json_int_t)outcome->time);
        put_text(json, "text", text);
    } else {
        if (replay->why) {
            print_moments(replay->program, outcome, "", G_MAXUINT);
        }
        printf("the host received %s\n", escaped);
    }
    g_free(escaped);
    g_free(text);
}

static void tell(const struct replay *replay, const struct recorded *recorded,
                 const struct uvk_outcome *outcome, json_t *json)
{
    if (recorded->lost > 0) {
        complain("%s lacks %u events, which were lost when it was made", replay->path,
                 recorded->lost);
    }
    tell_host(replay, outcome, json);
    if (replay->image != NULL) {
        tell_decided(replay, recorded, outcome, json);
    } else if (json == NULL) {
        puts("a chip tells no decisions: without --chip they are compared with the recording");
    }
}

bool replay(const struct replay *replay, json_t *json, GError **error)
{
    struct uvk_play play = {.name = replay->path};
    struct uvk_outcome outcome = {.play = &play};
    struct recorded *recorded = recorded_read(replay->path, replay->program, error);
    bool good = recorded != NULL && fingers_play(replay->program, replay->rig,
                                                 recorded->touches, &outcome.start, error);

    if (good) {
        outcome.moments = uvk_rig_moments(replay->rig);
        outcome.time = uvk_rig_now(replay->rig) - outcome.start;
        tell(replay, recorded, &outcome, json);
        good = replay->picture == NULL ||
               uvk_timeline_draw(replay->program, &outcome, replay->picture, error);
    }
    uvk_outcome_clear(&outcome);
    recorded_free(recorded);
    return good;
}
