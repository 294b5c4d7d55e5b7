/* typing.c - from a text to fingers, see typing.h for their timing. */
#include "uvrek/typing.h"

#include "rig.h"

#include <string.h>

#define NONE        (-1)
#define PAGE_KEYS   0x07u
#define SHIFTS      0x22u
#define START_US    10000u
#define LAST_GAP_US 40000u
#define LATE_US     100000u

/* How one character is typed. */
struct way {
    int held; /* a key that is held meanwhile, or NONE */
    unsigned key;
    uint16_t usage;
    double longer; /* microseconds that it has to be down at least */
};

/* ---- which keys ------------------------------------------------------------------- */

static bool types(const struct uvk_value *value, uint8_t mods, uint16_t usage)
{
    return value->kind == UVK_VALUE_USAGE && value->page == PAGE_KEYS && value->mods == mods &&
           value->usage == usage;
}

/* What KEY says on LAYER over the first one. */
static const struct uvk_value *cell_on(const struct uvk_program *program, unsigned layer,
                                       unsigned key)
{
    const struct uvk_value *cell = &program->keymap->layers[layer].cells[key];

    return cell->kind == UVK_VALUE_THROUGH ? &program->keymap->layers[0].cells[key] : cell;
}

/* The key of LAYER whose tap types that, not counting BUT; NONE if there is none. */
static int find_tap(const struct uvk_program *program, unsigned layer, int but, uint8_t mods,
                    uint16_t usage)
{
    for (unsigned key = 0; key < program->board->key_count; key++) {
        if ((int)key != but &&
            types(uvk_value_tap(cell_on(program, layer, key)), mods, usage)) {
            return (int)key;
        }
    }
    return NONE;
}

static const struct uvk_value *held_side(const struct uvk_value *cell)
{
    return cell->kind == UVK_VALUE_HOLD ? cell->held : cell;
}

/* The key of the first layer that is MODS while it is held. Shift may be either one. */
static int find_modifier(const struct uvk_program *program, uint8_t mods)
{
    for (unsigned key = 0; key < program->board->key_count; key++) {
        const struct uvk_value *value = held_side(&program->keymap->layers[0].cells[key]);
        bool shift = (mods & SHIFTS) != 0 && (value->mods & SHIFTS) != 0 &&
                     (value->mods & ~SHIFTS) == (mods & ~SHIFTS);
        if (value->kind == UVK_VALUE_USAGE && value->page == PAGE_KEYS && value->usage == 0 &&
            (value->mods == mods || shift)) {
            return (int)key;
        }
    }
    return NONE;
}

static bool directly(const struct uvk_program *program, uint8_t mods, struct way *way)
{
    int key = find_tap(program, 0, NONE, mods, way->usage);

    way->key = (unsigned)key;
    return key != NONE;
}

static bool with_modifier(const struct uvk_program *program, uint8_t mods, struct way *way)
{
    int key = find_tap(program, 0, NONE, 0, way->usage);

    way->held = mods != 0 ? find_modifier(program, mods) : NONE;
    way->key = (unsigned)key;
    return key != NONE && way->held != NONE && way->held != key;
}

static bool on_layer(const struct uvk_program *program, uint8_t mods, struct way *way)
{
    for (unsigned opener = 0; opener < program->board->key_count; opener++) {
        const struct uvk_value *value = held_side(&program->keymap->layers[0].cells[opener]);
        int key;
        if (value->kind != UVK_VALUE_LAYER || value->op != UVK_LAYER_WHILE) {
            continue;
        }
        key = find_tap(program, value->layer, (int)opener, mods, way->usage);
        if (key != NONE) {
            way->held = (int)opener;
            way->key = (unsigned)key;
            return true;
        }
    }
    return false;
}

static bool by_long_press(const struct uvk_program *program, uint8_t mods, struct way *way)
{
    for (unsigned key = 0; key < program->board->key_count; key++) {
        const struct uvk_value *cell = &program->keymap->layers[0].cells[key];
        if (cell->kind == UVK_VALUE_HOLD && types(cell->held, mods, way->usage)) {
            way->key = key;
            way->longer = program->keymap->feels[cell->feel].hold_after;
            return true;
        }
    }
    return false;
}

static bool find_way(const struct uvk_program *program, struct uvk_stroke stroke,
                     struct way *way)
{
    static bool (*const ways[])(const struct uvk_program *, uint8_t, struct way *) = {
        directly, with_modifier, on_layer, by_long_press};

    for (size_t i = 0; i < G_N_ELEMENTS(ways); i++) {
        *way = (struct way){.held = NONE, .usage = stroke.usage};
        if (ways[i](program, stroke.mods, way)) {
            return true;
        }
    }
    return false;
}

/* ---- when ------------------------------------------------------------------------- */

/* A finger comes down or up. */
struct touch {
    uint64_t time;
    unsigned key;
    bool down;
};

struct fingers {
    GRand *random;
    GArray *touches;  /* of struct touch */
    uint64_t time;    /* when the latest key came down */
    uint64_t *free;   /* of each key of the board: when it is up */
    int held;         /* what is held just now, or NONE */
    uint64_t held_up; /* when it may come up */
};

/* Microseconds between LEAST and MOST milliseconds. */
static uint64_t between(struct fingers *fingers, int least, int most)
{
    return (uint64_t)g_rand_int_range(fingers->random, least * 1000, most * 1000);
}

/* Most often near 110 ms, never below 60 or above 200. */
static uint64_t interval(struct fingers *fingers)
{
    uint64_t slow = between(fingers, 60, 200);
    uint64_t quick = between(fingers, 60, 140);

    return (slow + quick) / 2;
}

static void touch(struct fingers *fingers, uint64_t time, unsigned key, bool down)
{
    struct touch one = {time, key, down};

    g_array_append_val(fingers->touches, one);
    if (!down) {
        fingers->free[key] = time + LAST_GAP_US;
    }
}

static void let_go(struct fingers *fingers)
{
    if (fingers->held != NONE) {
        touch(fingers, fingers->held_up, (unsigned)fingers->held, false);
        fingers->held = NONE;
    }
}

/* What has to be held is held; what is held no longer comes up. */
static void change_held(struct fingers *fingers, int wanted)
{
    if (fingers->held == wanted) {
        return;
    }
    let_go(fingers);
    if (wanted != NONE) {
        uint64_t time = MAX(fingers->time + interval(fingers), fingers->free[wanted]);
        touch(fingers, time, (unsigned)wanted, true);
        fingers->time = time + between(fingers, 70, 130);
        fingers->held = wanted;
    }
}

/* One character; returns when its key comes down. */
static uint64_t finger(struct fingers *fingers, const struct way *way)
{
    bool changes = fingers->held != way->held;
    uint64_t down;
    uint64_t up;

    if (changes && fingers->held != NONE) { /* after what it was held for, before the next */
        fingers->time = MAX(fingers->time, fingers->held_up);
    }
    change_held(fingers, way->held);
    down = changes && way->held != NONE ? fingers->time : fingers->time + interval(fingers);
    down = MAX(down, fingers->free[way->key]);
    up = down + (way->longer > 0 ? (uint64_t)way->longer + 40000 : between(fingers, 50, 130));
    touch(fingers, down, way->key, true);
    touch(fingers, up, way->key, false);
    fingers->time = way->longer > 0 ? up : down;
    fingers->held_up = MAX(fingers->held_up, up + between(fingers, 30, 60));
    return down;
}

/* ---- typing ----------------------------------------------------------------------- */

static gint by_time(gconstpointer a, gconstpointer b)
{
    const struct touch *left = a;
    const struct touch *right = b;

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
    GString *missing = g_string_new(NULL);
    bool good;

    for (const char *at = text; *at != '\0'; at = g_utf8_next_char(at)) {
        struct uvk_stroke strokes[UVK_SPELL_MAX];
        gunichar character = g_utf8_get_char(at);
        unsigned count = uvk_layout_spell(program->keymap->layout, character, strokes);
        bool known = count > 0;
        for (unsigned i = 0; i < count && known; i++) {
            struct uvk_typed_key typed = {.character = character};
            struct way way;
            known = find_way(program, strokes[i], &way);
            if (known) {
                typed.key = way.key;
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
    g_array_sort(fingers->touches, by_time);
    good = missing->len == 0;
    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "this keymap has no key, with one other held at most, that types: %s",
                    missing->str);
    }
    g_string_free(missing, TRUE);
    return good;
}

static bool run(struct uvk_rig *rig, const GArray *touches, uint64_t start, GError **error)
{
    for (guint i = 0; i < touches->len; i++) {
        const struct touch *one = &g_array_index(touches, struct touch, i);
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
            if (!taken[j] && notice->kind == UVK_NOTICE_PRESS && notice->page == PAGE_KEYS &&
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
              uint32_t seed, struct uvk_typing *typing, GError **error)
{
    struct fingers fingers = {.random = g_rand_new_with_seed(seed),
                              .touches = g_array_new(FALSE, TRUE, sizeof(struct touch)),
                              .time = START_US,
                              .free = g_new0(uint64_t, program->board->key_count),
                              .held = NONE};
    GArray *usages = g_array_new(FALSE, TRUE, sizeof(uint16_t));
    uint64_t start = uvk_rig_now(rig);
    bool good;

    *typing =
        (struct uvk_typing){.keys = g_array_new(FALSE, TRUE, sizeof(struct uvk_typed_key))};
    good = plan(program, text, &fingers, typing, usages, error) &&
           run(rig, fingers.touches, start, error);
    if (good) {
        find_reports(rig, start, usages, typing->keys);
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
    g_free(typing->got);
    g_array_free(typing->keys, TRUE);
}
