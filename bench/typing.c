/* typing.c - from a text to fingers, see typing.h for what they do. */
#include "uvrek/typing.h"
#include "uvrek/hid.h"

#include "fingering.h"
#include "misfires.h"
#include "rig.h"

#include <string.h>

#define START_US    10000u
#define LAST_GAP_US 40000u
#define LATE_US     100000u
#define LONGER_US   40000u /* than a longer press need be */
#define COMBO_MS    15     /* the keys of a combo close within it */
#define AGAIN_MS    50     /* a touch of a dance, and the time to the next */

const struct uvk_tempo uvk_tempos[UVK_TEMPOS] = {
    {"slow", 160, 360, 520, 70, 160, 150, 300, 60, 120},
    {"steady", 110, 230, 330, 60, 140, 100, 200, 40, 90},
    {"fast", 60, 140, 200, 50, 130, 70, 130, 30, 60},
    {"racing", 30, 90, 120, 50, 110, 40, 80, 10, 40},
};

const struct uvk_tempo *uvk_tempo_named(const char *name)
{
    for (unsigned i = 0; i < UVK_TEMPOS; i++) {
        if (strcmp(uvk_tempos[i].name, name) == 0) {
            return &uvk_tempos[i];
        }
    }
    return NULL;
}

/* ---- when ------------------------------------------------------------------------- */

struct fingers {
    const struct uvk_tempo *tempo;
    GRand *random;
    GArray *touches;      /* of struct finger_touch */
    uint64_t time;        /* when the latest key came down */
    uint64_t up;          /* when it comes up */
    uint64_t *free;       /* of each key of the board: when it can be touched again */
    struct few_keys held; /* what is held just now */
    uint64_t held_up;     /* when it may come up */
    unsigned rolls;
};

/* Microseconds between LEAST and MOST milliseconds. */
static uint64_t between(struct fingers *fingers, int least, int most)
{
    return (uint64_t)g_rand_int_range(fingers->random, least * 1000, most * 1000);
}

static uint64_t interval(struct fingers *fingers)
{
    const struct uvk_tempo *tempo = fingers->tempo;
    uint64_t slow = between(fingers, tempo->between_least, tempo->between_most);
    uint64_t quick = between(fingers, tempo->between_least, tempo->between_often);

    return (slow + quick) / 2;
}

static void touch(struct fingers *fingers, uint64_t time, unsigned key, bool down,
                  enum finger_meaning meaning)
{
    struct finger_touch one = {time, key, down, meaning};

    g_array_append_val(fingers->touches, one);
    if (!down) {
        fingers->free[key] = time + LAST_GAP_US;
    }
}

static void let_go(struct fingers *fingers)
{
    for (unsigned i = fingers->held.count; i-- > 0;) {
        touch(fingers, fingers->held_up, fingers->held.key[i], false, MEANS_HOLD);
    }
    fingers->held.count = 0;
}

/* What has to be held is held; what is held no longer comes up. False: it was held before. */
static bool change_held(struct fingers *fingers, const struct few_keys *wanted)
{
    const struct uvk_tempo *tempo = fingers->tempo;
    bool same =
        fingers->held.count == wanted->count &&
        memcmp(fingers->held.key, wanted->key, wanted->count * sizeof *wanted->key) == 0;

    if (same) {
        return false;
    }
    if (fingers->held.count > 0) { /* after what it was held for, before the next */
        fingers->time = MAX(fingers->time, fingers->held_up);
        let_go(fingers);
    }
    for (unsigned i = 0; i < wanted->count; i++) {
        uint64_t time = MAX(fingers->time + interval(fingers), fingers->free[wanted->key[i]]);
        touch(fingers, time, wanted->key[i], true, MEANS_HOLD);
        fingers->time = time + between(fingers, tempo->lead_least, tempo->lead_most);
    }
    fingers->held = *wanted;
    return wanted->count > 0;
}

static void tap(struct fingers *fingers, unsigned key)
{
    const struct uvk_tempo *tempo = fingers->tempo;
    uint64_t down = MAX(fingers->time + interval(fingers), fingers->free[key]);
    uint64_t up = down + between(fingers, tempo->down_least, tempo->down_most);

    touch(fingers, down, key, true, MEANS_TAP);
    touch(fingers, up, key, false, MEANS_TAP);
    fingers->time = down;
    fingers->up = up;
}

static void tap_all(struct fingers *fingers, const struct few_keys *keys)
{
    for (unsigned i = 0; i < keys->count; i++) {
        tap(fingers, keys->key[i]);
    }
}

/* The touches of a dance before the last one; returns when the last may begin. */
static uint64_t count_up(struct fingers *fingers, const struct fingering *way, uint64_t down)
{
    for (unsigned i = 1; i < way->touches; i++) {
        uint64_t up = down + (uint64_t)AGAIN_MS * 1000;
        touch(fingers, down, way->keys.key[0], true, MEANS_COUNT);
        touch(fingers, up, way->keys.key[0], false, MEANS_COUNT);
        down = up + (uint64_t)AGAIN_MS * 1000;
    }
    return down;
}

static enum finger_meaning meaning_of(const struct fingering *way)
{
    return way->keys.count > 1 ? MEANS_COMBO
           : way->touches > 1  ? MEANS_COUNT
           : way->longer > 0   ? MEANS_HOLD
                               : MEANS_TAP;
}

/* The key itself, or all keys of a combo; returns when the last touch begins. */
static uint64_t press(struct fingers *fingers, const struct fingering *way, bool at_once)
{
    const struct uvk_tempo *tempo = fingers->tempo;
    uint64_t down = at_once ? fingers->time : fingers->time + interval(fingers);
    uint64_t up;

    for (unsigned i = 0; i < way->keys.count; i++) {
        down = MAX(down, fingers->free[way->keys.key[i]]);
    }
    down = count_up(fingers, way, down);
    up = down + (way->longer > 0 ? (uint64_t)way->longer + LONGER_US
                                 : between(fingers, tempo->down_least, tempo->down_most));
    fingers->rolls += down < fingers->up;
    for (unsigned i = 0; i < way->keys.count; i++) {
        uint64_t late = i == 0 ? 0 : between(fingers, 0, COMBO_MS);
        touch(fingers, down + late, way->keys.key[i], true, meaning_of(way));
        touch(fingers, up + late, way->keys.key[i], false, meaning_of(way));
        fingers->free[way->keys.key[i]] += (uint64_t)way->apart;
    }
    fingers->time = way->longer > 0 ? up : down;
    fingers->up = up;
    fingers->held_up =
        MAX(fingers->held_up, up + between(fingers, tempo->lag_least, tempo->lag_most));
    return down;
}

/* One character; returns when its key comes down. */
static uint64_t finger(struct fingers *fingers, const struct fingering *way)
{
    bool changed;
    uint64_t down;

    if (way->before.count > 0) { /* what is held goes with the key that comes next */
        (void)change_held(fingers, &(struct few_keys){.count = 0});
    }
    tap_all(fingers, &way->before);
    changed = change_held(fingers, &way->held);
    down = press(fingers, way, changed);
    tap_all(fingers, &way->after);
    return down;
}

/* ---- typing ----------------------------------------------------------------------- */

static gint by_time(gconstpointer a, gconstpointer b)
{
    const struct finger_touch *left = a;
    const struct finger_touch *right = b;

    return (left->time > right->time) - (left->time < right->time);
}

/* 'a', 'b', each once. */
static void note_missing(GString *missing, gunichar character)
{
    char utf8[8] = "";
    char *quoted;

    g_unichar_to_utf8(character, utf8);
    quoted = character == '\n'   ? g_strdup("the end of a line")
             : character == '\t' ? g_strdup("a tab")
                                 : g_strdup_printf("'%s'", utf8);
    if (strstr(missing->str, quoted) == NULL) {
        g_string_append_printf(missing, "%s%s", missing->len > 0 ? ", " : "", quoted);
    }
    g_free(quoted);
}

/* Plan the whole text. False: characters that no key types are named in *ERROR. */
static bool plan(const struct uvk_program *program, const char *text, struct fingers *fingers,
                 struct uvk_typing *typing, GArray *usages, GError **error)
{
    struct fingerings *fingerings = fingerings_new(program);
    GString *missing = g_string_new(NULL);
    bool good;

    for (const char *at = text; *at != '\0'; at = g_utf8_next_char(at)) {
        struct uvk_stroke strokes[UVK_SPELL_MAX];
        gunichar character = g_utf8_get_char(at);
        unsigned count = uvk_layout_spell(program->keymap->layout, character, strokes);
        bool known = count > 0;
        for (unsigned i = 0; i < count && known; i++) {
            struct uvk_typed_key typed = {.character = character};
            struct fingering way;
            known = fingering_find(fingerings, strokes[i], &way);
            if (known) {
                typed.key = way.keys.key[0];
                typed.touched = finger(fingers, &way);
                g_array_append_val(typing->keys, typed);
                g_array_append_val(usages, way.usage);
            }
        }
        if (!known) {
            note_missing(missing, character);
        }
    }
    let_go(fingers);
    fingerings_free(fingerings);
    g_array_sort(fingers->touches, by_time);
    good = missing->len == 0;
    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "no key of this keymap types these, with two others at most: %s",
                    missing->str);
    }
    g_string_free(missing, TRUE);
    return good;
}

static bool run(struct uvk_rig *rig, const GArray *touches, uint64_t start, GError **error)
{
    for (guint i = 0; i < touches->len; i++) {
        const struct finger_touch *one = &g_array_index(touches, struct finger_touch, i);
        uint64_t due = start + one->time;
        if (due > uvk_rig_now(rig) && !uvk_rig_run(rig, due - uvk_rig_now(rig), error)) {
            return false;
        }
        uvk_rig_press(rig, one->key, one->down);
    }
    return uvk_rig_settle(rig, error);
}

/* When the host saw each key: the first press of its usage that no earlier one has. */
static void find_reports(struct uvk_rig *rig, uint64_t start, const GArray *usages,
                         GArray *keys)
{
    const GArray *notices = uvk_host_notices(uvk_rig_host(rig));
    bool *taken = g_new0(bool, notices->len + 1);
    uint64_t latest = rig->silence + LATE_US; /* what comes later is another key's */

    for (guint i = 0; i < keys->len; i++) {
        struct uvk_typed_key *typed = &g_array_index(keys, struct uvk_typed_key, i);
        typed->touched += start;
        for (guint j = 0; j < notices->len && typed->reported == 0; j++) {
            const struct uvk_notice *notice = &g_array_index(notices, struct uvk_notice, j);
            if (!taken[j] && notice->kind == UVK_NOTICE_PRESS &&
                notice->page == UVK_HID_PAGE_KEYBOARD &&
                notice->usage == g_array_index(usages, uint16_t, i) &&
                notice->time >= typed->touched && notice->time < typed->touched + latest) {
                taken[j] = true;
                typed->reported = notice->time;
            }
        }
    }
    g_free(taken);
}

bool uvk_type(const struct uvk_program *program, struct uvk_rig *rig, const char *text,
              const struct uvk_tempo *tempo, uint32_t seed, struct uvk_typing *typing,
              GError **error)
{
    struct fingers fingers = {
        .tempo = tempo,
        .random = g_rand_new_with_seed(seed),
        .touches = g_array_new(FALSE, TRUE, sizeof(struct finger_touch)),
        .time = START_US,
        .free = g_new0(uint64_t, program->board->key_count),
    };
    GArray *usages = g_array_new(FALSE, TRUE, sizeof(uint16_t));
    uint64_t start = uvk_rig_now(rig);
    bool good;

    *typing =
        (struct uvk_typing){.keys = g_array_new(FALSE, TRUE, sizeof(struct uvk_typed_key)),
                            .misfires = g_array_new(FALSE, TRUE, sizeof(struct uvk_misfire))};
    good = plan(program, text, &fingers, typing, usages, error) &&
           run(rig, fingers.touches, start, error);
    if (good) {
        find_reports(rig, start, usages, typing->keys);
        find_misfires(program, rig, fingers.touches, start, typing->misfires);
        typing->rolls = fingers.rolls;
        typing->got = uvk_host_take_text(uvk_rig_host(rig));
        typing->time = uvk_rig_touched(rig) - start;
    }
    g_rand_free(fingers.random);
    g_array_free(fingers.touches, TRUE);
    g_array_free(usages, TRUE);
    g_free(fingers.free);
    return good;
}

void uvk_typing_clear(struct uvk_typing *typing)
{
    if (typing->keys == NULL) {
        return; /* it never began */
    }
    for (guint i = 0; i < typing->misfires->len; i++) {
        g_free(g_array_index(typing->misfires, struct uvk_misfire, i).text);
    }
    g_free(typing->got);
    g_array_free(typing->keys, TRUE);
    g_array_free(typing->misfires, TRUE);
}

double uvk_typing_speed(const struct uvk_typing *typing, const char *text)
{
    double minutes = (double)MAX(typing->time, 1) / 60e6;

    return (double)g_utf8_strlen(text, -1) / 5 / minutes;
}
