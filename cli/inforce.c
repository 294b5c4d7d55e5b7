/* inforce.c - times and rules of tap-holds, combos and dances, as they are in one program. */
#include "explain.h"

#include <stdio.h>
#include <string.h>

static const char *const rules[] = {[UVK_ON_TIMEOUT] = "on-timeout",
                                    [UVK_ON_PRESS] = "on-press",
                                    [UVK_ON_NESTED] = "on-nested"};

/* What a feel says of the word; freed with g_free. NULL: it is none of its words. */
static char *of_feel(const struct uvk_feel_text *feel, const char *word)
{
    const struct {
        const char *word;
        double time; /* microseconds */
    } times[] = {
        {"hold-after", feel->hold_after}, {"rest", feel->rest}, {"again", feel->again}};

    for (size_t i = 0; i < G_N_ELEMENTS(times); i++) {
        if (strcmp(times[i].word, word) == 0) {
            return g_strdup_printf("%gms", times[i].time / 1000);
        }
    }
    if (strcmp(word, "decide") == 0) {
        return g_strdup(rules[feel->decide]);
    }
    if (strcmp(word, "alone") == 0) {
        return g_strdup(feel->alone_tap ? "tap" : "hold");
    }
    return strcmp(word, "other-hand") == 0 ? g_strdup(feel->other_hand ? "on" : "off") : NULL;
}

static void print_one(const char *what, const char *name, const char *value,
                      struct uvk_place place)
{
    printf("  %s %s: %s", what, name, value);
    if (place.source != NULL) {
        printf(", ");
        print_place(place);
    } else {
        printf(", as nothing sets it");
    }
    puts("");
}

static bool print_feels(const struct asked *asked)
{
    const struct uvk_keymap *keymap = keymap_of(asked);
    bool known = false;

    for (unsigned i = 0; i < keymap->feel_count; i++) {
        const struct uvk_feel_text *feel = &keymap->feels[i];
        char *value = feel->decide != UVK_LONG_PRESS ? of_feel(feel, asked->word) : NULL;
        if (value != NULL) {
            print_one("feel", feel->name, value, feel->place);
            known = true;
        }
        g_free(value);
    }
    return known;
}

static void print_time(const char *what, const char *name, double time, struct uvk_place place)
{
    char *value = g_strdup_printf("%gms", time / 1000);

    print_one(what, name, value, place);
    g_free(value);
}

/* `within` of combos, dances and the leader. */
static void print_within(const struct asked *asked)
{
    const struct uvk_keymap *keymap = keymap_of(asked);

    for (const struct uvk_combo_text *combo = keymap->combos; combo != NULL;
         combo = combo->next) {
        char *name = uvk_cell_name(asked->program, &combo->value);
        print_time("combo for", name, combo->within, combo->place);
        g_free(name);
    }
    for (unsigned i = 0; i < keymap->dance_count; i++) {
        print_time("dance", keymap->dances[i].name, keymap->dances[i].within,
                   keymap->dances[i].place);
    }
    if (keymap->sequences != NULL) {
        print_time("leader", "sequences", keymap->settings[UVK_SET_LEADER_WITHIN].value,
                   keymap->settings[UVK_SET_LEADER_WITHIN].place);
    }
}

static void print_long_press(const struct asked *asked)
{
    const struct uvk_long_press_text *press = &keymap_of(asked)->long_press;

    if (press->place.source != NULL) {
        print_time("long-press", asked->word,
                   strcmp(asked->word, "after") == 0 ? press->after : press->repeat,
                   press->place);
    }
}

bool print_in_force(const struct asked *asked)
{
    if (keymap_of(asked) == NULL) {
        return false;
    }
    if (strcmp(asked->word, "within") == 0) {
        print_within(asked);
        return true;
    }
    if (strcmp(asked->word, "after") == 0 || strcmp(asked->word, "repeat") == 0) {
        print_long_press(asked);
        return true;
    }
    return print_feels(asked);
}
