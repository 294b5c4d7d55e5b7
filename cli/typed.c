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

static void print_text(const char *what, const char *text)
{
    char *shown = uvk_string_text(text);

    printf("  %-8s %s\n", what, shown);
    g_free(shown);
}

static void print_keys(const struct uvk_program *program, const struct uvk_typing *typing)
{
    GArray *all = delays_by_key(program, typing);

    puts("from contact to report, by key, slowest first:");
    puts("  key                     times  minimum   median  maximum");
    for (guint i = 0; i < all->len; i++) {
        const struct delays *delays = &g_array_index(all, struct delays, i);
        char *name = uvk_source_text(program, (unsigned)delays->key);
        printf("  %-22s %6u", name, delays->list->len + delays->lost);
        if (delays->list->len > 0) {
            printf(" %5.1f ms %5.1f ms %5.1f ms", at_share(delays, 0), at_share(delays, 0.5),
                   at_share(delays, 1));
        }
        if (delays->lost > 0) {
            printf("   %u not as asked", delays->lost);
        }
        putchar('\n');
        g_free(name);
    }
    free_delays(all);
}

static void print_typing(const struct uvk_program *program, const char *text,
                         const struct uvk_typing *typing)
{
    struct delays all = delays_of(typing, -1);
    glong count = g_utf8_strlen(text, -1);

    if (strcmp(text, typing->got) == 0) {
        printf("%ld characters came out as asked\n", count);
        print_text("text", text);
    } else {
        printf("what came out differs from character %ld on\n",
               first_difference(text, typing->got));
        print_text("asked", text);
        print_text("got", typing->got);
    }
    printf("typed in %.1f s, %.0f words (of five characters) a minute\n",
           (double)typing->time / 1e6, (double)count / 5 * 60e6 / (double)MAX(typing->time, 1));
    if (all.list->len > 0) {
        printf("from contact to report: minimum %.1f ms, median %.1f ms, maximum %.1f ms\n",
               at_share(&all, 0), at_share(&all, 0.5), at_share(&all, 1));
    }
    print_keys(program, typing);
    g_array_free(all.list, TRUE);
}

static void typing_to_json(json_t *json, const struct uvk_program *program, const char *text,
                           const struct uvk_typing *typing)
{
    json_t *list;

    put_text(json, "asked", text);
    put_text(json, "got", typing->got);
    put_flag(json, "as-written", strcmp(text, typing->got) == 0);
    put_number(json, "microseconds", (json_int_t)typing->time);
    list = put_list(json, "keys");
    for (guint i = 0; i < typing->keys->len; i++) {
        const struct uvk_typed_key *typed =
            &g_array_index(typing->keys, struct uvk_typed_key, i);
        char character[8] = "";
        char *name = uvk_source_text(program, typed->key);
        g_unichar_to_utf8(typed->character, character);
        json_t *object = add_object(list);
        put_text(object, "character", character);
        put_text(object, "key", name);
        if (typed->reported != 0) {
            put_number(object, "delay", (json_int_t)(typed->reported - typed->touched));
        }
        g_free(name);
    }
    print_json(json);
}

bool type_text(const struct uvk_program *program, struct uvk_rig *rig, const char *text,
               uint32_t seed, json_t *json, unsigned *wrong, GError **error)
{
    struct uvk_typing typing;
    bool good = g_utf8_validate(text, -1, NULL);

    if (!good) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, "the text is not UTF-8");
        return false;
    }
    good = uvk_type(program, rig, text, seed, &typing, error);
    if (good) {
        *wrong = strcmp(text, typing.got) != 0;
        if (json != NULL) {
            typing_to_json(json, program, text, &typing);
        } else {
            print_typing(program, text, &typing);
        }
    }
    uvk_typing_clear(&typing);
    return good;
}
