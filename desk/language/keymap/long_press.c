/* long_press.c - long-press { letters digits symbols; after T; repeat T; except KEY ... }
 *
 * A key that gives its shifted self when it is held long is a tap-hold like others: it is
 * made one here, and nothing that comes later knows the difference. */
#include "reading.h"

#include "uvrek/hid.h"
#include "uvrek/image.h"

#include <string.h>

#define AFTER      190000.0 /* microseconds, if nothing is said */
#define EXCEPT_MAX 64u

/* Usages of page 0x07 (HID Usage Tables 1.3, section 10), whatever a layout makes of them. */
static const struct {
    const char *word;
    enum uvk_long_press_kind kind;
    uint16_t first, last;
} classes[] = {
    {"letters", UVK_LONG_LETTERS, 0x04, 0x1D},
    {"digits", UVK_LONG_DIGITS, 0x1E, 0x27},
    {"symbols", UVK_LONG_SYMBOLS, 0x2D, 0x38},
    {"symbols", UVK_LONG_SYMBOLS, 0x64, 0x64},
};

static void read_after(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");

    (void)subject;
    if (want_time(reading, node, 1000, UVK_FEEL_TIME_MAX * 1000.0,
                  &reading->keymap->long_press.after)) {
        want_end(reading, statement, 2);
    }
}

static void read_repeat(struct reading *reading, const struct uvk_node *statement,
                        void *subject)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");

    (void)subject;
    if (want_time(reading, node, 0, UVK_FEEL_TIME_MAX * 1000.0,
                  &reading->keymap->long_press.repeat)) {
        want_end(reading, statement, 2);
    }
}

/* Is VALUE one of the keys that the words of the block stand for? */
static bool is_of_its_kinds(const struct uvk_long_press_text *press,
                            const struct uvk_value *value)
{
    if (value->kind != UVK_VALUE_USAGE || value->page != UVK_HID_PAGE_KEYBOARD ||
        value->mods != 0) {
        return false;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(classes); i++) {
        if ((press->kinds & classes[i].kind) != 0 && value->usage >= classes[i].first &&
            value->usage <= classes[i].last) {
            return true;
        }
    }
    return false;
}

/* An exception from nothing is a slip: of the finger, or of which kinds are on. (All kinds
 * are read before the exceptions.) */
static void check_exception(struct reading *reading, const struct uvk_value *value,
                            struct uvk_place place)
{
    if (value->kind != UVK_VALUE_BROKEN &&
        !is_of_its_kinds(&reading->keymap->long_press, value)) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, place, NULL,
                "this is none of the keys that are pressed long here");
    }
}

static void read_except(struct reading *reading, const struct uvk_node *statement,
                        void *subject)
{
    struct uvk_long_press_text *press = &reading->keymap->long_press;
    struct uvk_value *except = uvk_arena_take(reading->arena, EXCEPT_MAX * sizeof *except);

    (void)subject;
    press->except = except;
    for (const struct uvk_node *node = item(statement, 1);
         node != NULL && node->kind != UVK_NODE_BLOCK; node = node->next) {
        if (press->except_count == EXCEPT_MAX) {
            uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, node->place, NULL,
                    "at most %u exceptions", EXCEPT_MAX);
            return;
        }
        except[press->except_count] = cell_value(reading, node);
        check_exception(reading, &except[press->except_count++], node->place);
    }
    if (press->except_count == 0) {
        want(reading, statement, 1, UVK_NODE_NAME, "a key");
    }
}

/* letters digits symbols: one after the other, in any order. */
static void read_classes(struct reading *reading, const struct uvk_node *statement,
                         void *subject)
{
    (void)subject;
    for (const struct uvk_node *node = statement->child; node != NULL; node = node->next) {
        static const char *const words[] = {"letters", "digits", "symbols", NULL};
        if (want_word(reading, node, UVK_SAYS_EXPECTED, words, "kind of keys") < 0) {
            return;
        }
        for (size_t i = 0; i < G_N_ELEMENTS(classes); i++) {
            if (strcmp(classes[i].word, node->text) == 0) {
                reading->keymap->long_press.kinds |= classes[i].kind;
            }
        }
    }
}

static const struct rule long_press_rules[] = {
    {"letters", read_classes, true}, {"digits", read_classes, true},
    {"symbols", read_classes, true}, {"after", read_after, false},
    {"repeat", read_repeat, false},  {"except", read_except, false},
};

void read_long_press(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *block = want_block(reading, statement);

    (void)subject;
    if (block == NULL) {
        return;
    }
    want_end(reading, statement, 1);
    reading->keymap->long_press.place = statement->child->place;
    reading->keymap->long_press.after = AFTER;
    read_block(reading, block, long_press_rules, G_N_ELEMENTS(long_press_rules), "long-press",
               NULL);
}

static bool is_meant(const struct uvk_long_press_text *press, const struct uvk_value *value)
{
    for (unsigned i = 0; i < press->except_count; i++) {
        if (uvk_value_equal(&press->except[i], value)) {
            return false;
        }
    }
    return is_of_its_kinds(press, value);
}

static void make_tap_hold(struct reading *reading, struct uvk_value *cell, unsigned feel)
{
    struct uvk_value *sides = uvk_arena_take(reading->arena, 2 * sizeof *sides);

    sides[0] = *cell;
    sides[1] = *cell;
    sides[1].mods = UVK_MOD_SHIFT;
    *cell = (struct uvk_value){
        .kind = UVK_VALUE_HOLD, .tap = &sides[0], .held = &sides[1], .feel = feel};
}

void apply_long_press(struct reading *reading)
{
    struct uvk_keymap *keymap = reading->keymap;
    const struct uvk_long_press_text *press = &keymap->long_press;
    struct uvk_feel_text *feel;

    if (press->place.source == NULL && keymap->long_press_toggle.source != NULL) {
        uvk_say(reading->messages, UVK_SAYS_MISSING, keymap->long_press_toggle,
                "long-press { letters }",
                "this keymap has no long press that could be switched");
    }
    if (press->place.source == NULL || reading->board == NULL) {
        return;
    }
    feel = add_feel(reading, "long-press");
    if (feel == NULL) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, press->place, NULL,
                "a keymap has at most %u feels, long-press included", UVK_FEELS_MAX);
        return;
    }
    feel->hold_after = press->after;
    feel->again = press->repeat;
    feel->decide = UVK_LONG_PRESS;
    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        struct uvk_value *cells = keymap->layers[layer].cells;
        for (unsigned key = 0; cells != NULL && key < reading->board->key_count; key++) {
            if (is_meant(press, &cells[key])) {
                make_tap_hold(reading, &cells[key], keymap->feel_count - 1);
            }
        }
    }
}
