/* discovery.c - a board of which only the chip is known: from its switches to rows and columns.
 */
#include "discovery.h"

static void clear_knob(gpointer data)
{
    g_free(((struct knob *)data)->name);
}

struct uvk_discovery *uvk_discovery_new(const struct uvk_chip *chip)
{
    struct uvk_discovery *discovery = g_new0(struct uvk_discovery, 1);

    discovery->chip = chip;
    discovery->keys = g_array_new(FALSE, TRUE, sizeof(struct found));
    discovery->knobs = g_array_new(FALSE, TRUE, sizeof(struct knob));
    g_array_set_clear_func(discovery->knobs, clear_knob);
    return discovery;
}

void uvk_discovery_free(struct uvk_discovery *discovery)
{
    if (discovery != NULL) {
        g_array_unref(discovery->keys);
        g_array_unref(discovery->knobs);
        g_free(discovery);
    }
}

/* ---- pressing ---------------------------------------------------------------------------- */

static bool is_same(const struct found *key, const struct uvk_conducts *pair)
{
    return (key->a == pair->high && key->b == pair->low) ||
           (pair->low != NULL && key->a == pair->low && key->b == pair->high);
}

enum uvk_wiring_press uvk_discovery_key(struct uvk_discovery *discovery,
                                        const struct uvk_conducts *pairs, unsigned count,
                                        unsigned *other)
{
    struct found key = {pairs[0].high, pairs[0].low, false, discovery->line};

    for (unsigned i = 1; i < count; i++) {
        if (!is_same(&key, &pairs[i])) {
            return UVK_PRESS_TWO;
        }
        key.both_ways |= key.a != pairs[i].high;
    }
    for (guint i = 0; i < discovery->keys->len; i++) {
        if (is_same(discovery_at(discovery, i), &pairs[0])) {
            *other = i;
            return UVK_PRESS_KNOWN;
        }
    }
    g_array_append_val(discovery->keys, key);
    return UVK_PRESS_TAKEN;
}

/* A line without keys is none. */
void uvk_discovery_line(struct uvk_discovery *discovery)
{
    guint count = discovery->keys->len;
    guint knobs = discovery->knobs->len;

    if ((count > 0 && discovery_at(discovery, count - 1)->line == discovery->line) ||
        (knobs > 0 &&
         g_array_index(discovery->knobs, struct knob, knobs - 1).line == discovery->line)) {
        discovery->line++;
    }
}

bool uvk_discovery_back(struct uvk_discovery *discovery)
{
    guint count = discovery->keys->len;

    if (count > 0) {
        discovery->line = discovery_at(discovery, count - 1)->line;
        g_array_set_size(discovery->keys, count - 1);
    }
    return count > 0;
}

void uvk_discovery_knob(struct uvk_discovery *discovery, const char *name,
                        const struct uvk_turned *turned)
{
    struct knob knob = {g_strdup(name), *turned, discovery->keys->len, discovery->line};

    g_array_append_val(discovery->knobs, knob);
}

unsigned uvk_discovery_count(const struct uvk_discovery *discovery)
{
    return discovery->keys->len;
}

/* ---- two sides --------------------------------------------------------------------------- */

enum side { NO_SIDE, FIRST_SIDE, SECOND_SIDE };

struct sorting {
    const struct uvk_discovery *discovery;
    enum side sides[UVK_PINS_MAX]; /* of each pin of the chip */
    bool clash;                    /* a pin that would have to be on both */
};

static unsigned number_of(const struct sorting *sorting, const struct uvk_pin *pin)
{
    return (unsigned)(pin - sorting->discovery->chip->pins);
}

static bool put_on(struct sorting *sorting, const struct uvk_pin *pin, enum side side)
{
    enum side *own = &sorting->sides[number_of(sorting, pin)];
    bool news = *own == NO_SIDE;

    sorting->clash = sorting->clash || (*own != NO_SIDE && *own != side);
    *own = news ? side : *own;
    return news;
}

static enum side other_side(enum side side)
{
    return side == FIRST_SIDE ? SECOND_SIDE : FIRST_SIDE;
}

/* The other pin of a switch is on the other side. True: something is new. */
static bool follow(struct sorting *sorting, const struct found *key)
{
    enum side a = sorting->sides[number_of(sorting, key->a)];
    enum side b = sorting->sides[number_of(sorting, key->b)];

    return (a != NO_SIDE && put_on(sorting, key->b, other_side(a))) ||
           (b != NO_SIDE && put_on(sorting, key->a, other_side(b)));
}

/* Diodes say which pin is on which side; without them it follows from one switch to the next.
 */
static void sort_pins(struct sorting *sorting)
{
    const GArray *keys = sorting->discovery->keys;
    bool news = true;

    for (guint i = 0; i < keys->len; i++) {
        const struct found *key = discovery_at(sorting->discovery, i);
        if (key->b != NULL && !key->both_ways) {
            (void)put_on(sorting, key->a, FIRST_SIDE);
            (void)put_on(sorting, key->b, SECOND_SIDE);
        }
    }
    while (news) {
        news = false;
        for (guint i = 0; i < keys->len; i++) {
            const struct found *key = discovery_at(sorting->discovery, i);
            news = (key->b != NULL && follow(sorting, key)) || news;
        }
        for (guint i = 0; !news && i < keys->len; i++) {
            const struct found *key = discovery_at(sorting->discovery, i);
            news = key->b != NULL && sorting->sides[number_of(sorting, key->a)] == NO_SIDE &&
                   put_on(sorting, key->a, FIRST_SIDE);
        }
    }
}

/* ---- rows and columns -------------------------------------------------------------------- */

int discovery_place(const GPtrArray *list, const struct uvk_pin *pin)
{
    for (guint i = 0; i < list->len; i++) {
        if (list->pdata[i] == pin) {
            return (int)i;
        }
    }
    return -1;
}

static void add_pin(GPtrArray *list, const struct uvk_pin *pin)
{
    if (discovery_place(list, pin) < 0) {
        g_ptr_array_add(list, (gpointer)pin);
    }
}

static const struct uvk_pin *pin_on(const struct sorting *sorting, const struct found *key,
                                    enum side side)
{
    return sorting->sides[number_of(sorting, key->a)] == side ? key->a : key->b;
}

/* How many pins of SIDE the lines of keys have, all lines together: of rows, the fewer. */
static unsigned pins_in_lines(const struct sorting *sorting, enum side side)
{
    const struct uvk_discovery *discovery = sorting->discovery;
    unsigned count = 0;

    for (unsigned line = 0; line <= discovery->line; line++) {
        GPtrArray *seen = g_ptr_array_new();
        for (guint i = 0; i < discovery->keys->len; i++) {
            const struct found *key = discovery_at(discovery, i);
            if (key->line == line && key->b != NULL) {
                add_pin(seen, pin_on(sorting, key, side));
            }
        }
        count += seen->len;
        g_ptr_array_free(seen, TRUE);
    }
    return count;
}

static void lay_out(struct laid *laid, const struct sorting *sorting)
{
    laid->rows_first =
        pins_in_lines(sorting, FIRST_SIDE) <= pins_in_lines(sorting, SECOND_SIDE);
    for (guint i = 0; i < laid->discovery->keys->len; i++) {
        const struct found *key = discovery_at(laid->discovery, i);
        if (key->b == NULL) {
            add_pin(laid->direct, key->a);
            continue;
        }
        add_pin(laid->rows, pin_on(sorting, key, laid->rows_first ? FIRST_SIDE : SECOND_SIDE));
        add_pin(laid->cols, pin_on(sorting, key, laid->rows_first ? SECOND_SIDE : FIRST_SIDE));
        laid->both += key->both_ways;
        laid->one_way += !key->both_ways;
    }
}

/* Where both sides would have the same pin the switches are no matrix: each diode says so. */
static bool is_possible(const struct sorting *sorting, GError **error)
{
    if (sorting->discovery->keys->len == 0) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, "no key was pressed");
        return false;
    }
    if (sorting->clash) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_WELL,
                            "the switches make no matrix: one pin would have to be a row and a "
                            "column; look for a diode that is the other way round");
        return false;
    }
    return true;
}

bool discovery_lay_out(struct laid *laid, const struct uvk_discovery *discovery, GError **error)
{
    struct sorting sorting = {.discovery = discovery};

    *laid = (struct laid){.discovery = discovery,
                          .rows = g_ptr_array_new(),
                          .cols = g_ptr_array_new(),
                          .direct = g_ptr_array_new()};
    sort_pins(&sorting);
    if (!is_possible(&sorting, error)) {
        return false;
    }
    lay_out(laid, &sorting);
    return true;
}

void discovery_clear(struct laid *laid)
{
    if (laid->discovery != NULL) {
        g_ptr_array_free(laid->rows, TRUE);
        g_ptr_array_free(laid->cols, TRUE);
        g_ptr_array_free(laid->direct, TRUE);
    }
}
