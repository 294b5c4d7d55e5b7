/* meanings.c - what a word means, told kind by kind. */
#include "explain.h"

#include <stdio.h>
#include <string.h>

static const struct uvk_board *board_of(const struct asked *asked)
{
    return asked->program != NULL ? asked->program->board : NULL;
}

static const struct uvk_keymap *keymap_of(const struct asked *asked)
{
    return asked->program != NULL ? asked->program->keymap : NULL;
}

static void print_place(struct uvk_place place)
{
    struct uvk_position position = uvk_place_position(place);

    printf("%s:%u:%u", place.source->path, position.line, position.column);
}

/* ---- where a cell stands ------------------------------------------------------------- */

typedef bool (*cell_test)(const struct uvk_value *value, const void *data);

/* Does TEST hold for the cell, or for a side of it? */
static bool has(const struct uvk_value *value, cell_test test, const void *data)
{
    return test(value, data) || (value->kind == UVK_VALUE_HOLD &&
                                 (test(value->tap, data) || test(value->held, data)));
}

/* The cells for which TEST holds, a layer a line. */
static void print_cells(const struct asked *asked, cell_test test, const void *data)
{
    const struct uvk_keymap *keymap = keymap_of(asked);

    for (unsigned layer = 0; keymap != NULL && layer < keymap->layer_count; layer++) {
        unsigned found = 0;
        for (unsigned cell = 0; cell < uvk_board_cells(asked->program->board); cell++) {
            const struct uvk_value *value = &keymap->layers[layer].cells[cell];
            if (has(value, test, data)) {
                char *place = uvk_cell_place(asked->program->board, cell);
                char *name = uvk_cell_name(asked->program, value);
                printf("%s%s (%s)", found++ == 0 ? "  stands on " : ", ", place, name);
                g_free(place);
                g_free(name);
            }
        }
        if (found > 0) {
            printf(" of layer %s\n", keymap->layers[layer].name);
        }
    }
}

static bool gives_key(const struct uvk_value *value, const void *data)
{
    const struct uvk_key_name *key = data;

    if (value->kind == UVK_VALUE_MODS) {
        return key->usage == 0 && value->mods == key->mods;
    }
    return value->kind == UVK_VALUE_USAGE && value->page == key->page &&
           value->usage == key->usage && value->turn == key->turn &&
           (key->mods == 0 || value->mods == key->mods);
}

static bool opens_layer(const struct uvk_value *value, const void *data)
{
    return value->kind == UVK_VALUE_LAYER && value->layer == *(const unsigned *)data;
}

static bool runs_macro(const struct uvk_value *value, const void *data)
{
    return value->kind == UVK_VALUE_MACRO && value->macro == *(const unsigned *)data;
}

static bool starts_dance(const struct uvk_value *value, const void *data)
{
    return value->kind == UVK_VALUE_DANCE && value->dance == *(const unsigned *)data;
}

static bool has_feel(const struct uvk_value *value, const void *data)
{
    return value->kind == UVK_VALUE_HOLD && value->feel == *(const unsigned *)data;
}

/* ---- kinds of words: each says whether it knew the word ---------------------------------- */

static bool explain_code(const struct asked *asked)
{
    char *end = NULL;
    guint64 code;

    if ((asked->word[0] != 'U' && asked->word[0] != 'u') || !g_ascii_isdigit(asked->word[1])) {
        return false;
    }
    code = g_ascii_strtoull(asked->word + 1, &end, 10);
    if (*end != '\0' || code > 999 || uvk_code_text((unsigned)code) == NULL) {
        return false;
    }
    printf("U%03u: %s\n", (unsigned)code, uvk_code_text((unsigned)code));
    return true;
}

static bool explain_key(const struct asked *asked)
{
    static const struct {
        uint16_t page;
        const char *name;
    } pages[] = {{0x01, "generic desktop"},
                 {0x07, "keyboard"},
                 {0x09, "button"},
                 {0x0C, "consumer"},
                 {UVK_PAGE_OWN, "this keyboard's own"}};
    const struct uvk_key_name *key = uvk_key_named(asked->word);
    const char *page = "";

    if (key == NULL) {
        return false;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(pages); i++) {
        page = pages[i].page == key->page ? pages[i].name : page;
    }
    if (key->usage == 0 && key->mods != 0) {
        printf("%s: a modifier, bit %u of a keyboard report\n", key->name,
               (unsigned)g_bit_nth_lsf(key->mods, -1));
    } else {
        printf("%s: a key, usage 0x%02X of the %s page (0x%02X)%s\n", key->name, key->usage,
               page, key->page,
               key->turn > 0   ? ", forward"
               : key->turn < 0 ? ", backward"
                               : "");
    }
    print_cells(asked, gives_key, key);
    return true;
}

static bool explain_setting(const struct asked *asked)
{
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        const struct uvk_setting_name *setting = &uvk_setting_names[i];
        const struct uvk_setting_text *set =
            keymap_of(asked) != NULL  ? &asked->program->keymap->settings[i]
            : board_of(asked) != NULL ? &asked->program->board->settings[i]
                                      : NULL;
        double scale = setting->unit == NULL ? 1000 : 1;
        const char *unit = setting->unit == NULL ? "ms" : "";
        if (strcmp(setting->name, asked->word) != 0) {
            continue;
        }
        printf("%s: a setting, %s; from %g%s to %g%s, usually %g%s%s%s\n", setting->name,
               setting->what, setting->least / scale, unit, setting->most / scale, unit,
               setting->usual / scale, unit, setting->unit != NULL ? " " : "",
               setting->unit != NULL ? setting->unit : "");
        if (set != NULL) {
            printf("  here %g%s, ", set->value / scale, unit);
            if (set->place.source != NULL) {
                printf("set in ");
                print_place(set->place);
                puts("");
            } else {
                puts("as nothing sets it");
            }
        }
        return true;
    }
    return false;
}

static const struct uvk_pin *pin_here(const struct uvk_board *board, const char *word)
{
    for (unsigned i = 0; board != NULL && i < board->pin_name_count; i++) {
        if (strcmp(board->pin_names[i].name, word) == 0) {
            return board->pin_names[i].pin;
        }
    }
    return board != NULL && board->chip != NULL ? uvk_chip_pin(board->chip, word) : NULL;
}

static void print_pin_use(const struct uvk_board *board, const struct uvk_pin *pin)
{
    unsigned controllers = uvk_one_controller(board) ? 1 : board->half_count;

    for (unsigned half = 0; half < controllers; half++) {
        const char *use = uvk_pin_use(board, half, pin);
        printf("  %s%s%s\n", controllers > 1 ? board->halves[half].name : "here",
               use != NULL ? " it is used: " : " it is free", use != NULL ? use : "");
    }
}

static bool explain_pin(const struct asked *asked)
{
    const struct uvk_board *board = board_of(asked);
    bool known = false;
    size_t count;
    const struct uvk_chip *const *chips = uvk_chips(&count);

    if (board != NULL) {
        chips = &board->chip;
        count = 1;
    }
    for (size_t i = 0; i < count; i++) {
        const struct uvk_pin *pin =
            board != NULL ? pin_here(board, asked->word) : uvk_chip_pin(chips[i], asked->word);
        const struct uvk_reserved_pin *kept = chips[i]->reserved;
        while (kept->name != NULL && strcmp(kept->name, asked->word) != 0) {
            kept++;
        }
        if (kept->name != NULL) {
            printf("%s: a pin that the %s keeps for itself: %s\n", kept->name, chips[i]->title,
                   kept->why);
        } else if (pin != NULL) {
            printf("%s: pin %s of the %s, for a row, a column, a switch, a knob, a lamp\n",
                   asked->word, pin->name, chips[i]->title);
        }
        if (board != NULL && pin != NULL && kept->name == NULL) {
            print_pin_use(board, pin);
        }
        known |= kept->name != NULL || pin != NULL;
    }
    return known;
}

static bool explain_chip(const struct asked *asked)
{
    const struct uvk_chip *chip = uvk_chip_named(asked->word);

    if (chip == NULL) {
        return false;
    }
    printf("%s: the chip %s, %zu pins, %u kB of flash, %g kB of RAM; bootloaders:", chip->name,
           chip->title, chip->pin_count, chip->flash / 1024, chip->ram / 1024.0);
    for (const char *const *boot = chip->boots; *boot != NULL; boot++) {
        printf(" %s", *boot);
    }
    puts(chip->port != NULL ? "" : "; no firmware for it yet");
    return true;
}

static bool explain_layer(const struct asked *asked)
{
    const struct uvk_keymap *keymap = keymap_of(asked);

    for (unsigned i = 0; keymap != NULL && i < keymap->layer_count; i++) {
        const struct uvk_layer_text *layer = &keymap->layers[i];
        if (strcmp(layer->name, asked->word) != 0) {
            continue;
        }
        printf("%s: a layer, ", layer->name);
        print_place(layer->place);
        if (layer->has_when) {
            printf(", on while %s and %s are", keymap->layers[layer->when[0]].name,
                   keymap->layers[layer->when[1]].name);
        }
        puts(i == 0 ? ", always on" : "");
        print_cells(asked, opens_layer, &i);
        return true;
    }
    return false;
}

static bool explain_own(const struct asked *asked)
{
    const struct uvk_keymap *keymap = keymap_of(asked);
    bool known = false;

    for (unsigned i = 0; keymap != NULL && i < keymap->macro_count; i++) {
        if (!keymap->macros[i].character && strcmp(keymap->macros[i].name, asked->word) == 0) {
            printf("%s: a macro, ", asked->word);
            print_place(keymap->macros[i].place);
            puts("");
            print_cells(asked, runs_macro, &i);
            known = true;
        }
    }
    for (unsigned i = 0; keymap != NULL && i < keymap->dance_count; i++) {
        if (strcmp(keymap->dances[i].name, asked->word) == 0) {
            printf("%s: a dance of up to %u taps, %gms from tap to tap, ", asked->word,
                   keymap->dances[i].taps, keymap->dances[i].within / 1000);
            print_place(keymap->dances[i].place);
            puts("");
            print_cells(asked, starts_dance, &i);
            known = true;
        }
    }
    for (unsigned i = 0; keymap != NULL && i < keymap->feel_count; i++) {
        if (strcmp(keymap->feels[i].name, asked->word) == 0) {
            printf("%s: a feel of tap-holds, held after %gms\n", asked->word,
                   keymap->feels[i].hold_after / 1000);
            print_cells(asked, has_feel, &i);
            known = true;
        }
    }
    return known;
}

static void print_wires(const struct uvk_board *board, unsigned index)
{
    const struct uvk_key_place *key = &board->keys[index];
    const struct uvk_half *half = &board->halves[key->half];

    if (key->direct) {
        printf("a key with a pin of its own, %s", half->direct[key->col]->name);
    } else {
        printf("a key between row pin %s and column pin %s", half->rows[key->row]->name,
               half->cols[key->col]->name);
    }
    printf(", %g x %g units at %.2f, %.2f", key->width, key->height, key->x, key->y);
    if (key->turn != 0) {
        printf(", turned by %g degrees", key->turn);
    }
    puts("");
}

/* An address of the board: its wires, and what each layer has there. */
static bool explain_address(const struct asked *asked)
{
    const struct uvk_board *board = board_of(asked);
    const struct uvk_keymap *keymap = keymap_of(asked);

    for (unsigned i = 0; board != NULL && i < board->key_count; i++) {
        char *place = uvk_cell_place(board, i);
        bool same = strcmp(place, asked->word) == 0;
        g_free(place);
        if (!same) {
            continue;
        }
        printf("%s: ", asked->word);
        print_wires(board, i);
        for (unsigned layer = 0; keymap != NULL && layer < keymap->layer_count; layer++) {
            char *name = uvk_cell_name(asked->program, &keymap->layers[layer].cells[i]);
            printf("  %-12s %s\n", keymap->layers[layer].name, name);
            g_free(name);
        }
        return true;
    }
    return false;
}

static bool explain_knob(const struct asked *asked)
{
    const struct uvk_board *board = board_of(asked);

    for (unsigned i = 0; board != NULL && i < board->knob_count; i++) {
        const struct uvk_knob *knob = &board->knobs[i];
        if (strcmp(knob->name, asked->word) != 0) {
            continue;
        }
        printf("%s: a knob on pins %s and %s, %u changes of phase to a detent, ", knob->name,
               knob->pins[0]->name, knob->pins[1]->name, knob->detent);
        print_place(knob->place);
        puts("");
        if (knob->push >= 0) {
            char *place = uvk_cell_place(board, (unsigned)knob->push);
            printf("  its switch is %s\n", place);
            g_free(place);
        }
        for (unsigned layer = 0;
             keymap_of(asked) != NULL && layer < keymap_of(asked)->layer_count; layer++) {
            const struct uvk_layer_text *in = &keymap_of(asked)->layers[layer];
            char *left = uvk_cell_name(asked->program, &in->cells[board->key_count + 2 * i]);
            char *right =
                uvk_cell_name(asked->program, &in->cells[board->key_count + 2 * i + 1]);
            printf("  %-12s %s  %s\n", in->name, left, right);
            g_free(left);
            g_free(right);
        }
        return true;
    }
    return false;
}

static void print_strokes(const struct uvk_stroke *strokes, unsigned count)
{
    for (unsigned i = 0; i < count; i++) {
        struct uvk_value value = {.kind = UVK_VALUE_USAGE,
                                  .mods = strokes[i].mods,
                                  .page = 0x07,
                                  .usage = strokes[i].usage};
        char *name = uvk_value_text(&value);
        printf("%s%s", i > 0 ? ", then " : "", name);
        g_free(name);
    }
}

/* How each layout types a character. */
static bool explain_character(const struct asked *asked)
{
    gunichar character = g_utf8_get_char(asked->word);

    if (g_utf8_strlen(asked->word, -1) != 1 || !g_unichar_isgraph(character)) {
        return false;
    }
    printf("'%s': the character U+%04X\n", asked->word, character);
    for (size_t i = 0; uvk_layout_names[i] != NULL; i++) {
        struct uvk_layout *layout = uvk_layout_load(uvk_layout_names[i]);
        struct uvk_stroke strokes[UVK_SPELL_MAX];
        unsigned count = layout != NULL ? uvk_layout_spell(layout, character, strokes) : 0;
        printf("  %-8s ", uvk_layout_names[i]);
        print_strokes(strokes, count);
        puts(count == 0 ? "no keys type it" : "");
        uvk_layout_free(layout);
    }
    return true;
}

static bool (*const kinds[])(const struct asked *) = {
    explain_code, explain_layer, explain_own,  explain_address, explain_knob,
    explain_key,  explain_pin,   explain_chip, explain_setting, explain_character};

bool print_meanings(const struct asked *asked)
{
    bool known = false;

    for (size_t i = 0; i < G_N_ELEMENTS(kinds); i++) {
        known |= kinds[i](asked);
    }
    return known;
}
