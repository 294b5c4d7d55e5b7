/* sentences.c - what a cell does, in words. */
#include "uvrek/explain.h"

#include "uvrek/action.h"
#include "uvrek/hid.h"
#include "uvrek/ways.h"

#include <string.h>

static void tell(GString *out, const struct uvk_program *program,
                 const struct uvk_value *value);

static double ms(double microseconds)
{
    return microseconds / 1000;
}

static const char *layer_name(const struct uvk_program *program, unsigned layer)
{
    return program->keymap->layers[layer].name;
}

static void append_name(GString *out, const struct uvk_program *program,
                        const struct uvk_value *value)
{
    char *name = uvk_cell_name(program, value);

    g_string_append(out, name);
    g_free(name);
}

/* ---- keys -------------------------------------------------------------------------------- */

static const struct {
    uint16_t usage;
    const char *does;
} own_keys[] = {{UVK_OWN_PACE_SLOW, "slows the pointer and the wheels while it is held"},
                {UVK_OWN_PACE_FAST, "speeds the pointer and the wheels up while it is held"},
                {UVK_OWN_LONG_PRESS, "turns long presses off, pressed again on"}};

static void tell_sequences(GString *out, const struct uvk_program *program)
{
    const struct uvk_keymap *keymap = program->keymap;

    g_string_append_printf(out, "starts a leader sequence, %gms from key to key",
                           ms(keymap->settings[UVK_SET_LEADER_WITHIN].value));
    for (const struct uvk_sequence_text *sequence = keymap->sequences; sequence != NULL;
         sequence = sequence->next) {
        g_string_append(out, sequence == keymap->sequences ? ":" : ";");
        for (unsigned i = 0; i < sequence->key_count; i++) {
            g_string_append_c(out, ' ');
            append_name(out, program,
                        uvk_value_tap(&keymap->layers[0].cells[sequence->keys[i]]));
        }
        g_string_append(out, " -> ");
        tell(out, program, &sequence->value);
    }
}

static void tell_own_key(GString *out, const struct uvk_program *program,
                         const struct uvk_value *value)
{
    if (value->usage == UVK_OWN_LEADER) {
        tell_sequences(out, program);
        return;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(own_keys); i++) {
        if (own_keys[i].usage == value->usage) {
            g_string_append(out, own_keys[i].does);
        }
    }
}

/* What is typed with MODS, in quotes; NULL if nothing can be seen. */
static char *typed_with(const struct uvk_program *program, const struct uvk_value *value,
                        uint8_t mods)
{
    char *typed = uvk_typed_text(program, mods, (uint8_t)value->usage);
    char *quoted = typed[0] != '\0' ? uvk_string_text(typed) : NULL;

    g_free(typed);
    return quoted;
}

/* presses 7, with shift "&"; presses comma, ",", with shift "<" */
static void tell_keyboard_key(GString *out, const struct uvk_program *program,
                              const struct uvk_value *value)
{
    bool seen = uvk_is_character(value);
    char *plain = seen ? typed_with(program, value, value->mods) : NULL;
    char *shifted = seen && value->mods == 0 ? typed_with(program, value, UVK_MOD_SHIFT) : NULL;
    char *name = uvk_value_text(value);
    bool same = plain != NULL && strlen(plain) == strlen(name) + 2 &&
                strncmp(plain + 1, name, strlen(name)) == 0;

    g_string_append_printf(out, "presses %s", name);
    if (plain != NULL && !same) {
        g_string_append_printf(out, ", which types %s", plain);
    }
    if (plain != NULL && shifted != NULL && strcmp(plain, shifted) != 0) {
        g_string_append_printf(out, ", with shift %s", shifted);
    }
    g_free(plain);
    g_free(shifted);
    g_free(name);
}

/* How other keys are told: the first that fits. */
static const struct {
    uint16_t page, first, last; /* of usages */
    const char *before, *behind;
} manners[] = {
    {UVK_HID_PAGE_KEYBOARD, 0, 0, "holds ", " as long as it is down"}, /* modifiers alone */
    {UVK_HID_PAGE_BUTTON, 1, 0xFFFF, "holds ", " as long as it is down"},
    {UVK_HID_PAGE_DESKTOP, UVK_HID_WHEEL, UVK_HID_WHEEL, "turns the wheel (",
     "), again and again while it is down"},
    {UVK_HID_PAGE_DESKTOP, UVK_HID_X, 0x37, "moves the pointer (", ") as long as it is down"},
    {UVK_HID_PAGE_CONSUMER, UVK_HID_AC_PAN, UVK_HID_AC_PAN, "turns the wheel (",
     "), again and again while it is down"},
    {0, 0, 0xFFFF, "presses ", ""},
};

static void tell_other_key(GString *out, const struct uvk_value *value)
{
    char *name = uvk_value_text(value);
    size_t way = 0;

    while (manners[way].page != 0 &&
           (manners[way].page != value->page || value->usage < manners[way].first ||
            value->usage > manners[way].last)) {
        way++;
    }
    g_string_append_printf(out, "%s%s%s", manners[way].before, name, manners[way].behind);
    g_free(name);
}

static void tell_usage(GString *out, const struct uvk_program *program,
                       const struct uvk_value *value)
{
    if (value->page == UVK_PAGE_OWN) {
        tell_own_key(out, program, value);
    } else if (value->page == UVK_HID_PAGE_KEYBOARD && value->usage != 0) {
        tell_keyboard_key(out, program, value);
    } else {
        tell_other_key(out, value);
    }
}

/* ---- layers, modifiers, the board ------------------------------------------------------- */

static void tell_layer(GString *out, const struct uvk_program *program,
                       const struct uvk_value *value)
{
    static const char *const ways[] = {
        [UVK_LAYER_WHILE] = "turns the layer %s on as long as it is down",
        [UVK_LAYER_TOGGLE] = "turns the layer %s on, pressed again off",
        [UVK_LAYER_ONLY] = "turns off all layers but the first, and turns %s on",
        [UVK_LAYER_ONCE] = "turns the layer %s on as long as it is down, after a tap for the "
                           "next key only"};
    GString *way = g_string_new(ways[value->op]);

    g_string_replace(way, "%s", layer_name(program, value->layer), 1);
    g_string_append(out, way->str);
    if (value->op == UVK_LAYER_ONCE) {
        g_string_append_printf(out, " (it waits %gms)",
                               ms(program->keymap->settings[UVK_SET_ONCE_FOR].value));
    }
    g_string_free(way, TRUE);
}

static void tell_mods(GString *out, const struct uvk_program *program,
                      const struct uvk_value *value)
{
    struct uvk_value held = {
        .kind = UVK_VALUE_USAGE, .page = UVK_HID_PAGE_KEYBOARD, .mods = value->mods};
    char *name = uvk_value_text(&held);

    switch (value->op) {
    case UVK_MODS_ONCE:
        g_string_append_printf(out,
                               "holds %s as long as it is down, after a tap for the next key "
                               "only (it waits %gms)",
                               name, ms(program->keymap->settings[UVK_SET_ONCE_FOR].value));
        break;
    case UVK_MODS_TOGGLE:
        g_string_append_printf(out, "holds %s until it is pressed again", name);
        break;
    default:
        g_string_append_printf(out, "keeps %s from the host until it is pressed again", name);
        break;
    }
    g_free(name);
}

static void tell_board(GString *out, const struct uvk_program *program,
                       const struct uvk_value *value)
{
    static const char *const acts[] = {
        [UVK_BOARD_BOOTLOADER] = "starts the bootloader, so that new firmware can be written",
        [UVK_BOARD_RESTART] = "restarts the keyboard",
        [UVK_BOARD_RESET] = "forgets what is stored in the keyboard, and restarts it"};

    (void)program;
    g_string_append(out, acts[value->usage]);
}

static void tell_light(GString *out, const struct uvk_program *program,
                       const struct uvk_value *value)
{
    static const char *const acts[] = {
        [UVK_LIGHT_ON] = "switches the lights on",
        [UVK_LIGHT_OFF] = "switches the lights off",
        [UVK_LIGHT_TOGGLE] = "switches the lights off, or on again",
        [UVK_LIGHT_UP] = "makes the lights brighter",
        [UVK_LIGHT_DOWN] = "makes the lights darker",
        [UVK_LIGHT_NEXT] = "shows the next effect of the lights",
        [UVK_LIGHT_BACK] = "shows the effect of the lights before this one",
        [UVK_LIGHT_BREATHE] = "makes the lights breathe, or stand still again"};

    g_string_append(out, acts[value->usage]);
    if (!uvk_board_lights_up(program->board)) {
        g_string_append(out, "; this board has none, so it does nothing");
    }
}

static void tell_block(GString *out, const struct uvk_program *program,
                       const struct uvk_value *value)
{
    struct uvk_value key = {
        .kind = UVK_VALUE_USAGE, .page = UVK_HID_PAGE_KEYBOARD, .usage = value->usage};
    char *name = uvk_value_text(&key);

    (void)program;
    g_string_append_printf(out, "keeps %s from the host until it is pressed again", name);
    g_free(name);
}

/* ---- macros and dances
 * ------------------------------------------------------------------------ */

static void tell_lines(GString *out, const struct uvk_program *program,
                       const struct uvk_macro_line *line)
{
    static const char *const words[] = {"types", "taps",   "presses", "releases",
                                        "waits", "clicks", "does"};

    for (const struct uvk_macro_line *at = line; at != NULL; at = at->next) {
        g_string_append_printf(out, "%s%s ", at == line ? "" : ", ", words[at->word]);
        if (at->word == UVK_LINE_WAIT) {
            g_string_append_printf(out, "%gms", ms(at->time));
        } else if (at->text != NULL) {
            char *quoted = uvk_string_text(at->text);
            g_string_append(out, quoted);
            g_free(quoted);
        } else {
            append_name(out, program, &at->value);
        }
    }
}

static void tell_steps(GString *out, const struct uvk_program *program,
                       const struct uvk_macro_text *macro)
{
    tell_lines(out, program, macro->lines);
    if (macro->release_lines != NULL) {
        g_string_append(out,
                        macro->lines != NULL ? "; when it comes up, " : "when it comes up, ");
        tell_lines(out, program, macro->release_lines);
    }
}

static void tell_macro(GString *out, const struct uvk_program *program,
                       const struct uvk_value *value)
{
    const struct uvk_macro_text *macro = &program->keymap->macros[value->macro];

    if (macro->character) {
        g_string_append_printf(out, "types %s, in several strokes", macro->name);
        return;
    }
    g_string_append_printf(out, "runs the macro %s: ", macro->name);
    tell_steps(out, program, macro);
}

static void tell_touches(GString *out, const struct uvk_program *program, unsigned taps,
                         const char *last, const struct uvk_value *value)
{
    if (value->kind == UVK_VALUE_BROKEN) {
        return; /* the dance has no such line */
    }
    g_string_append(out, g_str_has_suffix(out->str, ":") ? " " : "; ");
    for (unsigned i = 1; i < taps; i++) {
        g_string_append(out, "tap ");
    }
    g_string_append_printf(out, "%s -> ", last);
    tell(out, program, value);
}

static void tell_dance(GString *out, const struct uvk_program *program,
                       const struct uvk_value *value)
{
    const struct uvk_dance_text *dance = &program->keymap->dances[value->dance];

    g_string_append_printf(out, "counts touches (the dance %s, %gms from one to the next):",
                           dance->name, ms(dance->within));
    for (unsigned taps = 1; taps <= dance->taps; taps++) {
        tell_touches(out, program, taps, "tap", &dance->lines[taps - 1].tapped);
        tell_touches(out, program, taps, "hold", &dance->lines[taps - 1].held);
    }
}

/* ---- tap-hold
 * --------------------------------------------------------------------------------- */

static void tell_feel(GString *out, const struct uvk_feel_text *feel)
{
    static const char *const sooner[] = {
        [UVK_ON_TIMEOUT] = "",
        [UVK_ON_PRESS] = ", or as soon as another key is pressed meanwhile",
        [UVK_ON_NESTED] = ", or when another key is pressed and released meanwhile",
        [UVK_LONG_PRESS] =
            "; another key that is pressed meanwhile makes it a tap, and so does "
            "a modifier that is down"};

    g_string_append_printf(out, ". It is a hold after %gms%s", ms(feel->hold_after),
                           sooner[feel->decide]);
    if (feel->other_hand) {
        g_string_append(out, ". A key of the same hand makes it a tap");
    }
    if (feel->rest > 0) {
        g_string_append_printf(out, ". Less than %gms after another key it is a tap at once",
                               ms(feel->rest));
    }
    if (feel->again > 0) {
        g_string_append_printf(
            out, ". Pressed less than %gms after its own tap, it taps and stays down",
            ms(feel->again));
    }
    if (feel->alone_tap) {
        g_string_append(out, ". Held and released with no other key between, it taps as well");
    }
    if (feel->decide != UVK_LONG_PRESS && feel->name != NULL) {
        g_string_append_printf(out, " (the feel %s)", feel->name);
    }
}

static void tell_hold(GString *out, const struct uvk_program *program,
                      const struct uvk_value *value)
{
    g_string_append(out, "when it is tapped, ");
    tell(out, program, value->tap);
    g_string_append(out, "; when it is held, ");
    tell(out, program, value->held);
    tell_feel(out, &program->keymap->feels[value->feel]);
}

/* ---- all
 * ---------------------------------------------------------------------------------------- */

static void tell_nothing(GString *out, const struct uvk_program *program,
                         const struct uvk_value *value)
{
    (void)program;
    (void)value;
    g_string_append(out, "does nothing, on purpose");
}

static void tell_through(GString *out, const struct uvk_program *program,
                         const struct uvk_value *value)
{
    (void)program;
    (void)value;
    g_string_append(out, "does what the next lower layer that is on has here");
}

static void (*const telling[])(GString *, const struct uvk_program *,
                               const struct uvk_value *) = {
    [UVK_VALUE_NOTHING] = tell_nothing, [UVK_VALUE_THROUGH] = tell_through,
    [UVK_VALUE_USAGE] = tell_usage,     [UVK_VALUE_LAYER] = tell_layer,
    [UVK_VALUE_MODS] = tell_mods,       [UVK_VALUE_HOLD] = tell_hold,
    [UVK_VALUE_MACRO] = tell_macro,     [UVK_VALUE_DANCE] = tell_dance,
    [UVK_VALUE_BLOCK] = tell_block,     [UVK_VALUE_BOARD] = tell_board,
    [UVK_VALUE_LIGHT] = tell_light,     [UVK_VALUE_BROKEN] = tell_nothing,
};

/* Dances in dances say more than anybody would read. */
#define SENTENCE_MAX 20000u

static void tell(GString *out, const struct uvk_program *program, const struct uvk_value *value)
{
    if (out->len > SENTENCE_MAX) {
        if (!g_str_has_suffix(out->str, "...")) {
            g_string_append(out, "...");
        }
        return;
    }
    telling[value->kind](out, program, value);
}

char *uvk_setting_sentence(const struct uvk_setting_name *setting)
{
    bool time = setting->unit == NULL;
    double scale = time ? 1000 : 1;
    const char *unit = time ? "ms" : "";

    return g_strdup_printf("%s; from %g%s to %g%s, usually %g%s%s%s", setting->what,
                           setting->least / scale, unit, setting->most / scale, unit,
                           setting->usual / scale, unit, time ? "" : " ",
                           time ? "" : setting->unit);
}

char *uvk_feel_sentence(const struct uvk_feel_text *feel)
{
    GString *out = g_string_new(NULL);

    tell_feel(out, feel);
    g_string_erase(out, 0, 2); /* it begins with the end of a sentence */
    return g_string_free(out, FALSE);
}

char *uvk_macro_sentence(const struct uvk_program *program, unsigned macro)
{
    GString *out = g_string_new(NULL);

    tell_steps(out, program, &program->keymap->macros[macro]);
    return g_string_free(out, FALSE);
}

char *uvk_value_sentence(const struct uvk_program *program, const struct uvk_value *value)
{
    GString *out = g_string_new(NULL);

    tell(out, program, value);
    return g_string_free(out, FALSE);
}

/* What shows through LAYER at CELL when it was reached on its shortest way. */
static void tell_shown(GString *out, const struct uvk_program *program, unsigned layer,
                       unsigned cell)
{
    struct uvk_ways *ways = uvk_ways_find(program);
    unsigned from;
    const struct uvk_value *value = uvk_cell_shown(program, ways, layer, cell, &from);

    if (value->kind != UVK_VALUE_THROUGH) {
        g_string_append_printf(out, "; the layer %s has ", layer_name(program, from));
        append_name(out, program, value);
    }
    uvk_ways_free(ways);
}

char *uvk_cell_sentence(const struct uvk_program *program, unsigned layer, unsigned cell)
{
    const struct uvk_value *value = &program->keymap->layers[layer].cells[cell];
    GString *out = g_string_new(NULL);

    if (value->kind == UVK_VALUE_THROUGH && layer == 0) {
        g_string_append(out, "does nothing: there is no layer below");
    } else {
        tell(out, program, value);
    }
    if (value->kind == UVK_VALUE_THROUGH && layer > 0) {
        tell_shown(out, program, layer, cell);
    }
    return g_string_free(out, FALSE);
}
