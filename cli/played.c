/* played.c - what `uvrek play` says of a play: for people, as JSON, as TAP. */
#include "played.h"

#include <stdio.h>

/* The last lines before the failure say most. */
#define LINES_SHOWN 16u

void print_moments(const struct uvk_program *program, const struct uvk_outcome *outcome,
                   const char *before, guint most)
{
    GPtrArray *lines = uvk_moments_lines(program, outcome->moments, outcome->start);
    guint first = lines->len > most ? lines->len - most : 0;

    if (first > 0) {
        printf("%s... the last %u of %u:\n", before, most, lines->len);
    }
    for (guint i = first; i < lines->len; i++) {
        printf("%s%s\n", before, (char *)g_ptr_array_index(lines, i));
    }
    g_ptr_array_unref(lines);
}

/* What an expectation counts: what came since the last one of its kind, or what is now. NULL:
 * it counts nothing. */
static const char *counted(enum uvk_step_kind kind)
{
    return kind == UVK_STEP_EXPECT_TEXT      ? "text"
           : kind == UVK_STEP_EXPECT_KEYS    ? "keys"
           : kind == UVK_STEP_EXPECT_POINTER ? "pointer"
           : kind == UVK_STEP_EXPECT_WHEEL   ? "wheel"
                                             : NULL;
}

/* "keys since the expectation at 5:33", of the failed step; NULL: it looks at a moment. Freed
 * with g_free. */
static char *since_text(const struct uvk_outcome *outcome)
{
    const char *what = counted(outcome->failed->kind);
    const struct uvk_step *last = NULL;

    for (const struct uvk_step *step = outcome->play->steps; step != outcome->failed;
         step = step->next) {
        last = step->kind == outcome->failed->kind ? step : last;
    }
    return what == NULL   ? NULL
           : last == NULL ? g_strdup_printf("%s since the start of the play", what)
                          : g_strdup_printf("%s since the expectation at %u:%u", what,
                                            uvk_place_position(last->place).line,
                                            uvk_place_position(last->place).column);
}

/* ---- for people ------------------------------------------------------------------- */

static void people_begin(const struct played *played)
{
    (void)played;
}

static void people_play(const struct played *played, const struct uvk_outcome *outcome)
{
    const char *green = on_terminal() ? "\033[32m" : "";
    const char *red = on_terminal() ? "\033[1;31m" : "";
    const char *off = on_terminal() ? "\033[0m" : "";
    char *since = outcome->failed != NULL ? since_text(outcome) : NULL;
    struct uvk_position position;

    if (outcome->failed == NULL) {
        printf("%spassed%s  %s (%u ms)\n", green, off, outcome->play->name,
               (unsigned)(outcome->time / 1000));
    } else {
        position = uvk_place_position(outcome->failed->place);
        printf("%sfailed%s  %s\n", red, off, outcome->play->name);
        printf("        %s:%u:%u: after %u ms%s%s\n", outcome->failed->place.source->path,
               position.line, position.column, (unsigned)(outcome->time / 1000),
               since != NULL ? "; " : "", since != NULL ? since : "");
        printf("          expected %s\n          got      %s\n", outcome->expected,
               outcome->got);
        if (outcome->trouble != NULL) {
            printf("        %s\n", outcome->trouble);
        }
    }
    if (outcome->failed != NULL || played->why) {
        print_moments(played->program, outcome, "        ",
                      played->why ? G_MAXUINT : LINES_SHOWN);
    }
    g_free(since);
}

static void people_end(const struct played *played)
{
    printf("%u play%s, %u failed, %s\n", played->count, played->count == 1 ? "" : "s",
           played->failed,
           played->chip != NULL ? "machine code on the simulated chip" : "in the simulator");
}

/* ---- JSON ------------------------------------------------------------------------- */

static void json_begin(const struct played *played)
{
    put_text(played->json, "runs-on", played->chip != NULL ? played->chip : "simulator");
    put_list(played->json, "plays");
}

static void moment_to_json(json_t *json, const struct played *played,
                           const struct uvk_moment *moment, uint64_t start)
{
    static const char *const kinds[] = {"touch", "cable", "decision", "notice"};
    static const char *const cables[] = {"in", "out", "crossed"};
    static const char *const notices[] = {"press", "release", "text", "move"};
    bool noticed = moment->kind == UVK_MOMENT_NOTICE;
    char *name;

    put_number(json, "microseconds", (json_int_t)(moment->time - start));
    if (moment->kind == UVK_MOMENT_CABLE) {
        put_text(json, "what", kinds[moment->kind]);
        put_text(json, "cable", cables[moment->cable]);
        return;
    }
    name =
        noticed ? uvk_notice_text(&moment->notice) : uvk_moment_source(played->program, moment);
    put_text(json, "what", noticed ? notices[moment->notice.kind] : kinds[moment->kind]);
    if (noticed && moment->notice.kind == UVK_NOTICE_TEXT) {
        put_text(json, "text", moment->notice.text);
    } else {
        put_text(json, "key", name);
    }
    if (moment->kind == UVK_MOMENT_TOUCH) {
        put_flag(json, "down", moment->down);
    } else if (moment->kind == UVK_MOMENT_DECISION) {
        put_text(json, "why", moment->text);
    } else if (moment->notice.kind == UVK_NOTICE_MOVE) {
        put_number(json, "by", moment->notice.by);
    }
    g_free(name);
}

static void moments_to_json(json_t *list, const struct played *played,
                            const struct uvk_outcome *outcome)
{
    for (guint i = 0; i < outcome->moments->len; i++) {
        const struct uvk_moment *moment =
            &g_array_index(outcome->moments, struct uvk_moment, i);
        if (moment->time >= outcome->start) {
            moment_to_json(add_object(list), played, moment, outcome->start);
        }
    }
}

static void json_play(const struct played *played, const struct uvk_outcome *outcome)
{
    json_t *json = add_object(json_object_get(played->json, "plays"));

    put_text(json, "play", outcome->play->name);
    put_flag(json, "passed", outcome->failed == NULL);
    put_number(json, "microseconds", (json_int_t)outcome->time);
    if (outcome->failed != NULL) {
        struct uvk_position position = uvk_place_position(outcome->failed->place);
        char *since = since_text(outcome);
        put_text(json, "file", outcome->failed->place.source->path);
        put_number(json, "line", position.line);
        put_number(json, "column", position.column);
        put_text(json, "trouble", outcome->trouble);
        put_text(json, "expected", outcome->expected);
        put_text(json, "got", outcome->got);
        put_text(json, "counts", since);
        g_free(since);
    }
    if (played->why) {
        moments_to_json(put_list(json, "moments"), played, outcome);
    }
}

static void json_end(const struct played *played)
{
    put_number(played->json, "failed", played->failed);
    print_json(played->json);
}

/* ---- TAP (Test Anything Protocol, version 13) ------------------------------------- */

static void tap_begin(const struct played *played)
{
    printf("TAP version 13\n1..%u\n", played->expected);
}

/* A '#' would begin a directive. */
static char *tap_name(const char *name)
{
    char *copy = g_strdup(name);

    g_strdelimit(copy, "#\n", '_');
    return copy;
}

static void tap_play(const struct played *played, const struct uvk_outcome *outcome)
{
    char *name = tap_name(outcome->play->name);

    printf("%sok %u - %s\n", outcome->failed == NULL ? "" : "not ", played->count, name);
    if (outcome->failed != NULL) {
        char *expected = g_strescape(outcome->expected, NULL);
        char *got = g_strescape(outcome->got, NULL);
        struct uvk_position position = uvk_place_position(outcome->failed->place);
        printf("  ---\n  at: \"%s:%u:%u\"\n  expected: \"%s\"\n  got: \"%s\"\n  ...\n",
               outcome->failed->place.source->path, position.line, position.column, expected,
               got);
        g_free(expected);
        g_free(got);
    }
    if (outcome->failed != NULL || played->why) {
        print_moments(played->program, outcome, "# ", played->why ? G_MAXUINT : LINES_SHOWN);
    }
    g_free(name);
}

static void tap_end(const struct played *played)
{
    (void)played;
}

const struct played_form played_for_people = {people_begin, people_play, people_end};
const struct played_form played_as_json = {json_begin, json_play, json_end};
const struct played_form played_as_tap = {tap_begin, tap_play, tap_end};
