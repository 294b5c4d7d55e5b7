/* typed.c - what came out of typing a text, and how long each key took. */
#include "typed.h"

#include "uvrek/typing.h"

#include <stdio.h>
#include <string.h>

/* The delays of one key, or of all. */
struct delays {
    int key;      /* -1: all */
    GArray *list; /* of double, milliseconds, sorted */
    unsigned lost;
};

static gint by_size(gconstpointer a, gconstpointer b)
{
    const double *left = a;
    const double *right = b;

    return (*left > *right) - (*left < *right);
}

static struct delays delays_of(const struct uvk_typing *typing, int key)
{
    struct delays delays = {key, g_array_new(FALSE, TRUE, sizeof(double)), 0};

    for (guint i = 0; i < typing->keys->len; i++) {
        const struct uvk_typed_key *typed =
            &g_array_index(typing->keys, struct uvk_typed_key, i);
        double delay = (double)(typed->reported - typed->touched) / 1000;
        if (key >= 0 && typed->key != (unsigned)key) {
            continue;
        }
        if (typed->reported == 0) {
            delays.lost++;
        } else {
            g_array_append_val(delays.list, delay);
        }
    }
    g_array_sort(delays.list, by_size);
    return delays;
}

static double at_share(const struct delays *delays, double share)
{
    guint last = delays->list->len - 1;

    return g_array_index(delays->list, double, (guint)(share * last + 0.5));
}

static gint slowest_first(gconstpointer a, gconstpointer b)
{
    const struct delays *left = a;
    const struct delays *right = b;
    double one = left->list->len > 0 ? at_share(left, 0.5) : 1e9;
    double two = right->list->len > 0 ? at_share(right, 0.5) : 1e9;

    return (two > one) - (two < one);
}

static GArray *delays_by_key(const struct uvk_program *program, const struct uvk_typing *typing)
{
    GArray *all = g_array_new(FALSE, TRUE, sizeof(struct delays));

    for (unsigned key = 0; key < program->board->key_count; key++) {
        struct delays delays = delays_of(typing, (int)key);
        if (delays.list->len + delays.lost > 0) {
            g_array_append_val(all, delays);
        } else {
            g_array_free(delays.list, TRUE);
        }
    }
    g_array_sort(all, slowest_first);
    return all;
}

static void free_delays(GArray *all)
{
    for (guint i = 0; i < all->len; i++) {
        g_array_free(g_array_index(all, struct delays, i).list, TRUE);
    }
    g_array_free(all, TRUE);
}

/* The first character that differs, counted from 1. */
static glong first_difference(const char *a, const char *b)
{
    const char *start = a;

    while (*a != '\0' && g_utf8_get_char(a) == g_utf8_get_char(b)) {
        a = g_utf8_next_char(a);
        b = g_utf8_next_char(b);
    }
    return g_utf8_pointer_to_offset(start, a) + 1;
}

static void print_text(FILE *out, const char *what, const char *text)
{
    char *shown = uvk_string_text(text);

    fprintf(out, "  %-8s %s\n", what, shown);
    g_free(shown);
}

static void print_keys(FILE *out, const struct uvk_program *program,
                       const struct uvk_typing *typing)
{
    GArray *all = delays_by_key(program, typing);

    fputs("  key                     times  minimum   median  maximum\n", out);
    for (guint i = 0; i < all->len; i++) {
        const struct delays *delays = &g_array_index(all, struct delays, i);
        char *name = uvk_source_text(program, (unsigned)delays->key);
        fprintf(out, "  %-22s %6u", name, delays->list->len + delays->lost);
        if (delays->list->len > 0) {
            fprintf(out, " %5.1f ms %5.1f ms %5.1f ms", at_share(delays, 0),
                    at_share(delays, 0.5), at_share(delays, 1));
        } else {
            fprintf(out, "%27s", "");
        }
        if (delays->lost > 0) {
            fprintf(out, "   %u not as asked", delays->lost);
        }
        putc('\n', out);
        g_free(name);
    }
    free_delays(all);
}

/* ---- all tempos ------------------------------------------------------------------------- */

struct result {
    const struct uvk_tempo *tempo;
    struct uvk_typing typing;
    bool good; /* it came out as asked */
};

static unsigned misfires_of(const struct uvk_typing *typing)
{
    unsigned count = 0;

    for (guint i = 0; i < typing->misfires->len; i++) {
        count += g_array_index(typing->misfires, struct uvk_misfire, i).times;
    }
    return count;
}

static void print_row(FILE *out, const struct result *result, const char *text)
{
    struct delays all = delays_of(&result->typing, -1);
    char *given = all.list->len > 0 ? g_strdup_printf("%6.1f ms %6.1f ms", at_share(&all, 0.5),
                                                      at_share(&all, 1))
                                    : g_strdup("");

    fprintf(out, "  %-8s %10.0f %6u  %-9s %9u  %s\n", result->tempo->name,
            uvk_typing_speed(&result->typing, text), result->typing.rolls,
            result->good ? "yes" : "NO", misfires_of(&result->typing), given);
    g_free(given);
    g_array_free(all.list, TRUE);
}

static void print_difference(FILE *out, const struct result *result, const char *text)
{
    if (result->good && result->typing.misfires->len == 0) {
        return;
    }
    if (result->good) {
        fprintf(out, "\n%s: as asked, but\n", result->tempo->name);
    } else {
        fprintf(out, "\n%s: what came out differs from character %ld on\n", result->tempo->name,
                first_difference(text, result->typing.got));
        print_text(out, "got", result->typing.got);
    }
    for (guint i = 0; i < result->typing.misfires->len; i++) {
        const struct uvk_misfire *misfire =
            &g_array_index(result->typing.misfires, struct uvk_misfire, i);
        fprintf(out, "  %3u time%s  %s\n", misfire->times, misfire->times == 1 ? " " : "s",
                misfire->text);
    }
}

/* The slowest tempo that goes wrong is the one to look at; else the last, fastest one. */
static const struct result *most_telling(const struct result *results, unsigned count)
{
    for (unsigned i = 0; i < count; i++) {
        if (!results[i].good) {
            return &results[i];
        }
    }
    return &results[count - 1];
}

static void print_results(FILE *out, const struct uvk_program *program, const char *text,
                          const struct result *results, unsigned count, bool on_chip)
{
    const struct result *telling = most_telling(results, count);

    fprintf(out, "%ld characters\n", g_utf8_strlen(text, -1));
    print_text(out, "asked", text);
    fputs("\nfrom contact to report, and how fast (words of five characters a minute):\n", out);
    fputs("  tempo          speed  rolls  as asked   misfires     median   maximum\n", out);
    for (unsigned i = 0; i < count; i++) {
        print_row(out, &results[i], text);
    }
    if (on_chip) {
        fputs("A chip keeps no decisions: misfires are counted in the simulator only.\n", out);
    }
    for (unsigned i = 0; i < count; i++) {
        print_difference(out, &results[i], text);
    }
    fprintf(out, "\nby key, slowest first, tempo %s:\n", telling->tempo->name);
    print_keys(out, program, &telling->typing);
}

/* ---- JSON ------------------------------------------------------------------------------ */

static void keys_to_json(json_t *list, const struct uvk_program *program,
                         const struct uvk_typing *typing)
{
    for (guint i = 0; i < typing->keys->len; i++) {
        const struct uvk_typed_key *typed =
            &g_array_index(typing->keys, struct uvk_typed_key, i);
        char character[8] = "";
        char *name = uvk_source_text(program, typed->key);
        json_t *object = add_object(list);
        g_unichar_to_utf8(typed->character, character);
        put_text(object, "character", character);
        put_text(object, "key", name);
        if (typed->reported != 0) {
            put_number(object, "delay", (json_int_t)(typed->reported - typed->touched));
        }
        g_free(name);
    }
}

static void results_to_json(json_t *json, const struct uvk_program *program, const char *text,
                            const struct result *results, unsigned count)
{
    json_t *tempos;

    put_text(json, "asked", text);
    tempos = put_list(json, "tempos");
    for (unsigned i = 0; i < count; i++) {
        const struct uvk_typing *typing = &results[i].typing;
        json_t *object = add_object(tempos);
        json_t *misfires;
        put_text(object, "tempo", results[i].tempo->name);
        put_number(object, "words-a-minute",
                   (json_int_t)(uvk_typing_speed(typing, text) + 0.5));
        put_number(object, "rolls", typing->rolls);
        put_text(object, "got", typing->got);
        put_flag(object, "as-asked", results[i].good);
        put_number(object, "microseconds", (json_int_t)typing->time);
        misfires = put_list(object, "misfires");
        for (guint j = 0; j < typing->misfires->len; j++) {
            const struct uvk_misfire *misfire =
                &g_array_index(typing->misfires, struct uvk_misfire, j);
            json_t *one = add_object(misfires);
            put_text(one, "what", misfire->text);
            put_number(one, "times", misfire->times);
        }
        keys_to_json(put_list(object, "keys"), program, typing);
    }
    print_json(json);
}

/* ---- the whole ------------------------------------------------------------------------- */

static bool type_at(const struct typing_request *request, const struct uvk_tempo *tempo,
                    struct result *result, GError **error)
{
    struct uvk_rig *rig = request->new_rig(request->data, error);
    bool good = rig != NULL && uvk_type(request->program, rig, request->text, tempo,
                                        request->seed, &result->typing, error);

    result->tempo = tempo;
    result->good = good && strcmp(request->text, result->typing.got) == 0;
    uvk_rig_free(rig);
    return good;
}

bool type_text(const struct typing_request *request, json_t *json, unsigned *wrong,
               GError **error)
{
    struct result results[UVK_TEMPOS] = {{NULL, {NULL, NULL, NULL, 0, 0}, false}};
    unsigned count = 0;
    bool good = g_utf8_validate(request->text, -1, NULL) && request->text[0] != '\0';

    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s",
                    request->text[0] == '\0' ? "there is no text to type"
                                             : "the text is not UTF-8");
        return false;
    }
    for (unsigned i = 0; good && i < UVK_TEMPOS; i++) {
        if (request->tempo == NULL || request->tempo == &uvk_tempos[i]) {
            good = type_at(request, &uvk_tempos[i], &results[count], error);
            *wrong |= !results[count++].good;
        }
    }
    if (good && json != NULL) {
        results_to_json(json, request->program, request->text, results, count);
    } else if (good) {
        print_results(request->out, request->program, request->text, results, count,
                      request->on_chip);
    }
    for (unsigned i = 0; i < count; i++) {
        uvk_typing_clear(&results[i].typing);
    }
    return good;
}
