/* keys_lines.c - the keys that come, a line each; and what they have come to. */
#include "trying.h"

#include "uvrek/bench.h"

#include <stdio.h>

#define LOOK_MS 100u

struct counted {
    unsigned all, come;
};

/* Of the cells from FIRST up to END. */
static struct counted count_cells(const struct trying *trying, unsigned first, unsigned end)
{
    struct counted counted = {0, 0};

    for (unsigned i = first; i < end; i++) {
        bool has = uvk_keytest_has(trying->test, i);
        counted.all += has;
        counted.come += has && uvk_keytest_seen(trying->test, i)->presses > 0;
    }
    return counted;
}

char *trying_count_text(const struct trying *trying)
{
    const struct uvk_board *board = trying->session->program->board;
    struct counted keys = count_cells(trying, 0, board->key_count);
    struct counted turns = count_cells(trying, board->key_count, uvk_board_cells(board));

    return turns.all == 0
               ? g_strdup_printf("%u of %u keys have come", keys.come, keys.all)
               : g_strdup_printf("%u of %u keys and %u of %u turns of knobs have come",
                                 keys.come, keys.all, turns.come, turns.all);
}

/* ---- in words ---------------------------------------------------------------------------- */

static char *name_of(const struct trying *trying, unsigned cell)
{
    const struct uvk_program *program = trying->session->program;

    return program->keymap != NULL ? uvk_source_text(program, cell)
                                   : uvk_cell_place(program->board, cell);
}

static void ask_in_words(const struct trying *trying)
{
    printf("Press every key of the %s, one after the other, and turn its knobs both ways. "
           "What is pressed is typed nowhere.\n",
           trying->session->program->board->title);
    if (trying->halves != NULL) {
        puts(trying->halves);
    }
}

static void print_event(const struct trying *trying, const struct uvk_live_event *event,
                        int cell)
{
    unsigned long long ms = events_ms(&trying->events, event);
    const struct uvk_key_seen *seen;
    char *name;
    char *count;

    if (cell < 0) {
        printf("%7llu ms  a switch that is no key of the board\n", ms);
        return;
    }
    seen = uvk_keytest_seen(trying->test, (unsigned)cell);
    name = name_of(trying, (unsigned)cell);
    count = trying_count_text(trying);
    if (event->before) {
        printf("%7llu ms  %s is down already\n", ms, name);
    } else if (seen->presses == 1 && seen->chatters == 0) {
        printf("%7llu ms  %s  (%s)\n", ms, name, count);
    } else {
        printf("%7llu ms  %s  again\n", ms, name);
    }
    g_free(count);
    g_free(name);
}

static void print_findings(const GPtrArray *findings)
{
    for (guint i = 0; i < findings->len; i++) {
        puts(((const struct uvk_finding *)findings->pdata[i])->text);
    }
}

/* ---- as JSON ----------------------------------------------------------------------------- */

static void put_place(json_t *json, const struct trying *trying, int cell)
{
    char *place =
        cell >= 0 ? uvk_cell_place(trying->session->program->board, (unsigned)cell) : NULL;

    put_text(json, "place", place);
    g_free(place);
}

/* A program that presses keys may begin. */
static void begin_to_json(const struct trying *trying)
{
    json_t *json = json_object();

    put_text(json, "kind", "begin");
    put_number(json, "missing", uvk_keytest_missing(trying->test));
    put_text(json, "halves", trying->halves);
    print_json_line(json);
}

static void event_to_json(const struct trying *trying, const struct uvk_live_event *event,
                          int cell)
{
    json_t *json = json_object();

    put_text(json, "kind", event->on ? "down" : "up");
    put_number(json, "ms", (json_int_t)events_ms(&trying->events, event));
    put_place(json, trying, cell);
    put_flag(json, "before", event->before);
    print_json_line(json);
}

static void findings_to_json(const struct trying *trying, const GPtrArray *findings)
{
    json_t *json = json_object();
    json_t *list;

    put_text(json, "kind", "end");
    put_number(json, "missing", uvk_keytest_missing(trying->test));
    put_number(json, "lost", trying->events.lost);
    list = put_list(json, "findings");
    for (guint i = 0; i < findings->len; i++) {
        const struct uvk_finding *finding = findings->pdata[i];
        json_t *one = add_object(list);
        json_t *places;
        put_text(one, "kind", uvk_finding_name(finding->kind));
        put_text(one, "text", finding->text);
        places = put_list(one, "places");
        for (guint j = 0; j < finding->cells->len; j++) {
            char *place = uvk_cell_place(trying->session->program->board,
                                         g_array_index(finding->cells, unsigned, j));
            (void)json_array_append_new(places, json_string(place));
            g_free(place);
        }
    }
    print_json_line(json);
}

/* ---- both -------------------------------------------------------------------------------- */

int trying_print(const struct trying *trying, bool as_json)
{
    GPtrArray *findings = uvk_keytest_findings(trying->test);
    char *count = trying_count_text(trying);
    bool well = findings->len == 0;

    if (as_json) {
        findings_to_json(trying, findings);
    } else {
        print_findings(findings);
        printf("%s%s\n", count, well ? ", each of them alone" : "");
        if (trying->events.lost > 0) {
            printf("%u events were lost: more happened than the cable carries\n",
                   trying->events.lost);
        }
    }
    g_free(count);
    g_ptr_array_unref(findings);
    return well ? STATUS_WELL : STATUS_NOT_WELL;
}

static void show(const struct trying *trying, const struct uvk_live_event *event, int cell,
                 bool as_json)
{
    if (as_json) {
        event_to_json(trying, event, cell);
    } else if (event->on) {
        print_event(trying, event, cell);
    }
    (void)fflush(stdout);
}

static void ask(const struct trying *trying, bool as_json)
{
    if (as_json) {
        begin_to_json(trying);
    } else {
        ask_in_words(trying);
    }
    (void)fflush(stdout);
}

bool trying_in_lines(struct trying *trying, bool as_json, GError **error)
{
    struct uvk_live_event event;
    int cell;
    int come = 0;

    ask(trying, as_json);
    while (come >= 0 && !listening_ends() && !trying_is_enough(trying) &&
           (uvk_keytest_missing(trying->test) > 0 || uvk_keytest_is_down(trying->test))) {
        come = trying_next(trying, LOOK_MS, &event, &cell, error);
        if (come > 0 && cell != UVK_TAKEN_NOTHING) {
            show(trying, &event, cell, as_json);
        }
    }
    return come >= 0;
}
