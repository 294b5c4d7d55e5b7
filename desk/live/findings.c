/* findings.c - what is wrong with the keys that were tried, in sentences. */
#include "trying.h"

#include <string.h>

const char *uvk_finding_name(enum uvk_finding_kind kind)
{
    static const char *const names[UVK_FINDINGS] = {
        [UVK_FINDS_NOTHING] = "nothing",   [UVK_FINDS_WIRE] = "wire",
        [UVK_FINDS_KEY] = "key",           [UVK_FINDS_KNOB] = "knob",
        [UVK_FINDS_STUCK] = "stuck",       [UVK_FINDS_CHATTER] = "chatter",
        [UVK_FINDS_TOGETHER] = "together", [UVK_FINDS_STRAY] = "stray"};

    return names[kind];
}

static void free_finding(gpointer data)
{
    struct uvk_finding *finding = data;

    g_free(finding->text);
    g_array_unref(finding->cells);
    g_free(finding);
}

/* Takes TEXT over. */
static struct uvk_finding *add(GPtrArray *list, enum uvk_finding_kind kind, char *text)
{
    struct uvk_finding *finding = g_new0(struct uvk_finding, 1);

    finding->kind = kind;
    finding->text = text;
    finding->cells = g_array_new(FALSE, FALSE, sizeof(unsigned));
    g_ptr_array_add(list, finding);
    return finding;
}

static void add_cell(struct uvk_finding *finding, unsigned cell)
{
    g_array_append_val(finding->cells, cell);
}

/* ---- what has not come ------------------------------------------------------------------- */

struct missing {
    const struct uvk_keytest *test;
    GPtrArray *list;
    bool *told; /* of each key: it is part of a finding */
};

static bool is_missing(const struct missing *missing, unsigned key)
{
    return uvk_keytest_has(missing->test, key) && missing->test->seen[key].presses == 0 &&
           !missing->test->seen[key].from_start;
}

static bool hangs_on(const struct missing *missing, unsigned key, const struct uvk_wire *wire)
{
    return uvk_keytest_has(missing->test, key) &&
           uvk_wire_has_key(missing->test->board, wire, key);
}

/* Keys of WIRE that nothing has been said of; 0 if one of its keys has come, or only one hangs
 * there: then the key is as likely as the wire. */
static unsigned suspected(const struct missing *missing, const struct uvk_wire *wire)
{
    unsigned all = 0;
    unsigned news = 0;

    for (unsigned key = 0; key < missing->test->board->key_count; key++) {
        if (!hangs_on(missing, key, wire)) {
            continue;
        }
        if (!is_missing(missing, key)) {
            return 0;
        }
        all++;
        news += !missing->told[key];
    }
    return all > 1 ? news : 0;
}

static char *names_of(const struct uvk_board *board, const GArray *cells)
{
    GString *out = g_string_new(NULL);

    for (guint i = 0; i < cells->len; i++) {
        char *name = uvk_cell_place(board, g_array_index(cells, unsigned, i));
        g_string_append_printf(out, "%s%s", i > 0 ? " " : "", name);
        g_free(name);
    }
    return g_string_free(out, FALSE);
}

static void tell_wire(struct missing *missing, const struct uvk_wire *wire)
{
    const struct uvk_board *board = missing->test->board;
    struct uvk_finding *finding = add(missing->list, UVK_FINDS_WIRE, NULL);
    char *wire_text = uvk_wire_text(board, wire);
    char *names;

    for (unsigned key = 0; key < board->key_count; key++) {
        if (hangs_on(missing, key, wire)) {
            add_cell(finding, key);
            missing->told[key] = true;
        }
    }
    names = names_of(board, finding->cells);
    finding->text = g_strdup_printf(
        "nothing of %s has come (%s): look at that wire and its pin", wire_text, names);
    g_free(names);
    g_free(wire_text);
}

/* The wire that most of what is missing hangs on. False: there is none. */
static bool worst_wire(const struct missing *missing, struct uvk_wire *worst)
{
    const struct uvk_board *board = missing->test->board;
    unsigned most = 0;

    for (unsigned half = 0; half < board->half_count; half++) {
        for (enum uvk_wire_side side = UVK_WIRE_ROW; side <= UVK_WIRE_COL; side++) {
            for (unsigned i = 0; i < uvk_wire_count(&board->halves[half], side); i++) {
                const struct uvk_wire wire = {half, side, i};
                unsigned count = suspected(missing, &wire);
                if (count > most) {
                    most = count;
                    *worst = wire;
                }
            }
        }
    }
    return most > 0;
}

static void tell_key(struct missing *missing, unsigned key)
{
    const struct uvk_board *board = missing->test->board;
    const struct uvk_key_place *place = &board->keys[key];
    bool diode = !place->direct && board->halves[place->half].flow != UVK_NO_DIODES;
    char *name = uvk_cell_place(board, key);
    char *wires = uvk_key_wires_text(board, key);

    add_cell(add(missing->list, UVK_FINDS_KEY,
                 place->direct
                     ? g_strdup_printf("%s has not come: its switch, or %s", name, wires)
                     : g_strdup_printf("%s alone has not come: its switch, %sor a joint, "
                                       "between %s",
                                       name, diode ? "its diode, " : "", wires)),
             key);
    g_free(wires);
    g_free(name);
}

static bool nothing_came(const struct missing *missing)
{
    for (unsigned key = 0; key < missing->test->board->key_count; key++) {
        if (uvk_keytest_has(missing->test, key) && !is_missing(missing, key)) {
            return false;
        }
    }
    return true;
}

/* A half of which nothing has come, where something of the other one has. */
static bool half_is_gone(const struct missing *missing, unsigned half)
{
    const struct uvk_board *board = missing->test->board;
    unsigned keys = 0;

    for (unsigned key = 0; key < board->key_count; key++) {
        if (board->keys[key].half == half && uvk_keytest_has(missing->test, key)) {
            keys++;
            if (!is_missing(missing, key)) {
                return false;
            }
        }
    }
    return keys > 0;
}

static void tell_half(struct missing *missing, unsigned half)
{
    const struct uvk_board *board = missing->test->board;
    struct uvk_finding *finding =
        add(missing->list, UVK_FINDS_NOTHING,
            g_strdup_printf("nothing of the half '%s' has come: look at its cable, and at %s",
                            board->halves[half].name,
                            uvk_one_controller(board) ? "its wires' common way"
                                                      : "whether its controller runs"));

    for (unsigned key = 0; key < board->key_count; key++) {
        if (board->keys[key].half == half) {
            add_cell(finding, key);
            missing->told[key] = true;
        }
    }
}

static void tell_missing(const struct uvk_keytest *test, GPtrArray *list)
{
    struct missing missing = {test, list, g_new0(bool, test->board->key_count + 1u)};
    struct uvk_wire wire;

    if (nothing_came(&missing)) {
        (void)add(list, UVK_FINDS_NOTHING,
                  g_strdup("no key has come: are the diodes the other way round than the file "
                           "says, or all rows and columns? `uvrek wires` finds out"));
        g_free(missing.told);
        return;
    }
    for (unsigned half = 0; half < test->board->half_count && test->board->half_count > 1;
         half++) {
        if (half_is_gone(&missing, half)) {
            tell_half(&missing, half);
        }
    }
    while (worst_wire(&missing, &wire)) {
        tell_wire(&missing, &wire);
    }
    for (unsigned key = 0; key < test->board->key_count; key++) {
        if (is_missing(&missing, key) && !missing.told[key]) {
            tell_key(&missing, key);
        }
    }
    g_free(missing.told);
}

/* ---- what has come ----------------------------------------------------------------------- */

static bool always_with(const struct uvk_keytest *test, unsigned key, unsigned other)
{
    const struct uvk_key_seen *seen = &test->seen[key];

    return seen->presses > 0 && seen->with == (int)other && seen->together >= seen->presses;
}

static void tell_stuck(const struct uvk_keytest *test, GPtrArray *list, unsigned key)
{
    char *place = uvk_cell_place(test->board, key);

    add_cell(add(list, UVK_FINDS_STUCK,
                 g_strdup_printf("%s was down from the start: its switch is stuck, or its two "
                                 "wires are joined there",
                                 place)),
             key);
    g_free(place);
}

static void tell_chatter(const struct uvk_keytest *test, GPtrArray *list, unsigned key)
{
    const struct uvk_key_seen *seen = &test->seen[key];
    char *place = uvk_cell_place(test->board, key);

    add_cell(add(list, UVK_FINDS_CHATTER,
                 g_strdup_printf(
                     "%s chatters: while it was held it opened and closed again %u %s, for "
                     "up to %u ms (debounce covers %u ms): clean or replace its switch",
                     place, seen->chatters, seen->chatters == 1 ? "time" : "times",
                     seen->open_most, test->debounce)),
             key);
    g_free(place);
}

/* What two keys that come together have joined. */
static char *joined_text(const struct uvk_board *board, unsigned a, unsigned b)
{
    for (enum uvk_wire_side side = UVK_WIRE_ROW; side <= UVK_WIRE_COL; side++) {
        enum uvk_wire_side other = side == UVK_WIRE_ROW ? UVK_WIRE_COL : UVK_WIRE_ROW;
        struct uvk_wire shared[2];
        struct uvk_wire apart[2];
        char *first;
        char *second;
        char *text;
        if (!uvk_key_wire(board, a, side, &shared[0]) ||
            !uvk_key_wire(board, b, side, &shared[1]) ||
            !uvk_same_wire(&shared[0], &shared[1])) {
            continue;
        }
        (void)uvk_key_wire(board, a, other, &apart[0]);
        (void)uvk_key_wire(board, b, other, &apart[1]);
        first = uvk_wire_text(board, &apart[0]);
        second = uvk_wire_text(board, &apart[1]);
        text = g_strdup_printf("%s and %s are joined", first, second);
        g_free(second);
        g_free(first);
        return text;
    }
    return g_strdup("something joins them");
}

static void tell_together(const struct uvk_keytest *test, GPtrArray *list, unsigned a,
                          unsigned b)
{
    char *first = uvk_cell_place(test->board, a);
    char *second = uvk_cell_place(test->board, b);
    char *joined = joined_text(test->board, a, b);
    struct uvk_finding *finding =
        add(list, UVK_FINDS_TOGETHER,
            g_strdup_printf("%s and %s always come together: %s", first, second, joined));

    add_cell(finding, a);
    add_cell(finding, b);
    g_free(joined);
    g_free(second);
    g_free(first);
}

static void tell_come(const struct uvk_keytest *test, GPtrArray *list)
{
    for (unsigned key = 0; key < test->board->key_count; key++) {
        const struct uvk_key_seen *seen = &test->seen[key];
        if (seen->from_start) {
            tell_stuck(test, list, key);
        }
        if (seen->chatters > 0) {
            tell_chatter(test, list, key);
        }
        if (seen->with > (int)key && always_with(test, key, (unsigned)seen->with) &&
            always_with(test, (unsigned)seen->with, key)) {
            tell_together(test, list, key, (unsigned)seen->with);
        }
    }
}

/* ---- knobs and strays -------------------------------------------------------------------- */

static void tell_knob(const struct uvk_keytest *test, GPtrArray *list, unsigned knob)
{
    static const char *const ways[] = {"left", "right"};
    const char *name = test->board->knobs[knob].name;
    unsigned cell = test->board->key_count + 2 * knob;
    const struct uvk_key_seen *seen = &test->seen[cell];
    unsigned missed = seen[0].missed + seen[1].missed;

    for (unsigned way = 0; way < 2; way++) {
        if (seen[way].presses == 0) {
            add_cell(add(list, UVK_FINDS_KNOB,
                         g_strdup_printf("%s has not turned to the %s", name, ways[way])),
                     cell + way);
        }
    }
    if (missed > 0) {
        struct uvk_finding *finding = add(
            list, UVK_FINDS_KNOB,
            g_strdup_printf("%s: %u change%s of its contacts came too fast to be seen one by "
                            "one; if it is turned slowly, a contact fails",
                            name, missed, missed == 1 ? "" : "s"));
        add_cell(finding, cell);
        add_cell(finding, cell + 1);
    }
}

static void tell_stray(const struct uvk_keytest *test, GPtrArray *list,
                       const struct stray *stray)
{
    const char *a = uvk_pin_label(test->board, stray->a);
    const char *times = stray->count == 1 ? "time" : "times";

    (void)add(
        list, UVK_FINDS_STRAY,
        stray->b != NULL
            ? g_strdup_printf("a switch between %s and %s came %u %s; the file has no key "
                              "there",
                              a, uvk_pin_label(test->board, stray->b), stray->count, times)
            : g_strdup_printf("pin %s was joined to ground %u %s; the file has no key there", a,
                              stray->count, times));
}

/* Where no key has come at all, many switches are said in one sentence. */
static void tell_strays(const struct uvk_keytest *test, GPtrArray *list)
{
    const struct stray *strays = (const struct stray *)(void *)test->strays->data;
    const struct uvk_finding *first = list->len > 0 ? list->pdata[0] : NULL;

    if (first != NULL && first->kind == UVK_FINDS_NOTHING && test->strays->len > 1) {
        (void)add(
            list, UVK_FINDS_STRAY,
            g_strdup_printf("%u switches came where the file has no key, the first between "
                            "%s and %s",
                            test->strays->len, uvk_pin_label(test->board, strays[0].a),
                            strays[0].b != NULL ? uvk_pin_label(test->board, strays[0].b)
                                                : "ground"));
        return;
    }
    for (guint i = 0; i < test->strays->len; i++) {
        tell_stray(test, list, &strays[i]);
    }
}

GPtrArray *uvk_keytest_findings(const struct uvk_keytest *test)
{
    GPtrArray *list = g_ptr_array_new_with_free_func(free_finding);

    tell_missing(test, list);
    tell_come(test, list);
    for (unsigned knob = 0; knob < test->board->knob_count; knob++) {
        if (uvk_keytest_has(test, test->board->key_count + 2 * knob)) {
            tell_knob(test, list, knob);
        }
    }
    tell_strays(test, list);
    return list;
}
