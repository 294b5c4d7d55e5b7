/* here.c - what a word means in one program: its layers, cells, wires. */
#include "explain.h"

#include "uvrek/ways.h"

#include <stdio.h>
#include <string.h>

/* ---- where a cell stands ------------------------------------------------------------- */

/* Does TEST hold for the cell, or for a side of it? */
static bool has(const struct uvk_value *value, cell_test test, const void *data)
{
    return test(value, data) || (value->kind == UVK_VALUE_HOLD &&
                                 (test(value->tap, data) || test(value->held, data)));
}

void print_cells(const struct asked *asked, cell_test test, const void *data)
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

/* ---- kinds of words ---------------------------------------------------------------------- */

static void print_way(const struct asked *asked, unsigned layer)
{
    struct uvk_ways *ways = uvk_ways_find(asked->program);

    if (layer > 0) {
        printf("  %s%s\n", ways->of[layer].found ? "the way there: " : "nothing leads there",
               ways->of[layer].text);
    }
    uvk_ways_free(ways);
}

bool explain_layer(const struct asked *asked)
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
        print_way(asked, i);
        print_cells(asked, opens_layer, &i);
        return true;
    }
    return false;
}

/* The head of a name of the keymap's own: what it is, and where. */
static void print_own(const struct asked *asked, const char *what, struct uvk_place place)
{
    printf("%s: %s", asked->word, what);
    if (place.source != NULL) {
        printf(", ");
        print_place(place);
    }
    puts("");
}

static void print_sentence(char *sentence)
{
    print_wrapped(sentence, 2);
    g_free(sentence);
}

static bool explain_macro(const struct asked *asked)
{
    const struct uvk_keymap *keymap = keymap_of(asked);

    for (unsigned i = 0; keymap != NULL && i < keymap->macro_count; i++) {
        if (!keymap->macros[i].character && strcmp(keymap->macros[i].name, asked->word) == 0) {
            print_own(asked, "a macro", keymap->macros[i].place);
            print_sentence(uvk_macro_sentence(asked->program, i));
            print_cells(asked, runs_macro, &i);
            return true;
        }
    }
    return false;
}

static bool explain_dance(const struct asked *asked)
{
    const struct uvk_keymap *keymap = keymap_of(asked);

    for (unsigned i = 0; keymap != NULL && i < keymap->dance_count; i++) {
        if (strcmp(keymap->dances[i].name, asked->word) == 0) {
            struct uvk_value value = {.kind = UVK_VALUE_DANCE, .dance = i};
            print_own(asked, "a dance", keymap->dances[i].place);
            print_sentence(uvk_value_sentence(asked->program, &value));
            print_cells(asked, starts_dance, &i);
            return true;
        }
    }
    return false;
}

static bool explain_feel(const struct asked *asked)
{
    const struct uvk_keymap *keymap = keymap_of(asked);

    for (unsigned i = 0; keymap != NULL && i < keymap->feel_count; i++) {
        if (strcmp(keymap->feels[i].name, asked->word) == 0) {
            print_own(asked, "a feel of tap-holds", keymap->feels[i].place);
            print_sentence(uvk_feel_sentence(&keymap->feels[i]));
            print_cells(asked, has_feel, &i);
            return true;
        }
    }
    return false;
}

static bool is_equal(const struct uvk_value *value, const void *data)
{
    return uvk_value_equal(value, data);
}

/* A `let` is told as it is written; one without parameters also as the cell that it is. */
static bool explain_let(const struct asked *asked)
{
    struct uvk_place place = {NULL, 0, 0};
    struct uvk_messages messages;
    struct uvk_value value;
    char *text =
        keymap_of(asked) != NULL ? uvk_let_text(asked->program, asked->word, &place) : NULL;

    if (text == NULL) {
        return false;
    }
    print_own(asked, "a name for cells", place);
    printf("  %s\n", text);
    uvk_messages_init(&messages);
    if (uvk_cell_read(asked->program, asked->word, &messages, &value)) {
        print_sentence(uvk_value_sentence(asked->program, &value));
        print_cells(asked, is_equal, &value);
    }
    uvk_messages_clear(&messages);
    g_free(text);
    return true;
}

static bool explain_choice(const struct asked *asked)
{
    const struct uvk_board *board = board_of(asked);

    for (unsigned i = 0; board != NULL && i < board->choice_count; i++) {
        const struct uvk_choice *choice = &board->choices[i];
        if (strcmp(choice->name, asked->word) == 0) {
            print_own(asked, "a layout choice", choice->place);
            printf("  here %s; it can be", choice->options[choice->chosen]);
            for (unsigned option = 0; option < choice->option_count; option++) {
                printf(" %s", choice->options[option]);
            }
            puts("");
            return true;
        }
    }
    return false;
}

bool explain_own(const struct asked *asked)
{
    bool known = explain_macro(asked);

    known |= explain_dance(asked);
    known |= explain_feel(asked);
    known |= explain_let(asked);
    return explain_choice(asked) || known;
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

/* The keys that hang on WIRE. */
static void print_sharing(const struct uvk_board *board, const struct uvk_wire *wire)
{
    char *text = uvk_wire_text(board, wire);

    printf("  %s:", text);
    for (unsigned i = 0; i < board->key_count; i++) {
        if (uvk_wire_has_key(board, wire, i)) {
            char *place = uvk_cell_place(board, i);
            printf(" %s", place);
            g_free(place);
        }
    }
    putchar('\n');
    g_free(text);
}

/* Which keys share the wires of KEY: where one is dead, those are looked at next. */
static void print_company(const struct uvk_board *board, unsigned key)
{
    struct uvk_wire wire;

    for (enum uvk_wire_side side = UVK_WIRE_ROW; side < UVK_WIRE_SIDES; side++) {
        if (uvk_key_wire(board, key, side, &wire)) {
            print_sharing(board, &wire);
        }
    }
}

bool print_wire_of_pin(const struct uvk_board *board, unsigned half, const struct uvk_pin *pin)
{
    struct uvk_wire wire = {half, UVK_WIRE_ROW, 0};

    for (; wire.side < UVK_WIRE_SIDES; wire.side++) {
        unsigned count = uvk_wire_count(&board->halves[half], wire.side);
        for (wire.index = 0; wire.index < count; wire.index++) {
            if (uvk_wire_pin(board, &wire) == pin) {
                print_sharing(board, &wire);
                return true;
            }
        }
    }
    return false;
}

bool explain_wire(const struct asked *asked)
{
    const struct uvk_board *board = board_of(asked);
    struct uvk_wire wire;

    /* a pin is explained as a pin */
    if (board == NULL || uvk_chip_pin(board->chip, asked->word) != NULL ||
        !uvk_wire_named(board, asked->word, &wire)) {
        return false;
    }
    printf("%s: a wire of the board\n", asked->word);
    print_sharing(board, &wire);
    return true;
}

/* What a layer has in a place, and what that does; SIDE is said before it. */
static void print_cell(const struct asked *asked, unsigned layer, unsigned cell,
                       const char *side)
{
    const struct uvk_layer_text *in = &asked->program->keymap->layers[layer];
    char *name = uvk_cell_name(asked->program, &in->cells[cell]);
    char *sentence = uvk_cell_sentence(asked->program, layer, cell);

    printf("  %-12s %s%s\n", in->name, side, name);
    print_wrapped(sentence, 15);
    g_free(name);
    g_free(sentence);
}

/* An address of the board: its wires, and what each layer does there. */
bool explain_address(const struct asked *asked)
{
    const struct uvk_board *board = board_of(asked);
    const struct uvk_keymap *keymap = keymap_of(asked);
    int cell = board != NULL ? uvk_cell_at(board, asked->word) : -1;

    if (cell < 0 || (unsigned)cell >= board->key_count) {
        return false;
    }
    printf("%s: ", asked->word);
    print_wires(board, (unsigned)cell);
    print_company(board, (unsigned)cell);
    for (unsigned layer = 0; keymap != NULL && layer < keymap->layer_count; layer++) {
        if (asked->layer < 0 || layer == (unsigned)asked->layer) {
            print_cell(asked, layer, (unsigned)cell, "");
        }
    }
    return true;
}

bool explain_knob(const struct asked *asked)
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
            if (asked->layer < 0 || layer == (unsigned)asked->layer) {
                print_cell(asked, layer, board->key_count + 2 * i, "to the left: ");
                print_cell(asked, layer, board->key_count + 2 * i + 1, "to the right: ");
            }
        }
        return true;
    }
    return false;
}

/* A cell as it could be written, whether it stands somewhere or not. */
bool explain_cell(const struct asked *asked)
{
    struct uvk_messages messages;
    struct uvk_value value;
    bool known = false;

    if (keymap_of(asked) == NULL || keymap_of(asked)->layout == NULL) {
        return false;
    }
    uvk_messages_init(&messages);
    known = uvk_cell_read(asked->program, asked->word, &messages, &value);
    if (known) {
        char *sentence = uvk_value_sentence(asked->program, &value);
        printf("%s: a cell\n", asked->word);
        print_wrapped(sentence, 2);
        print_cells(asked, is_equal, &value);
        g_free(sentence);
    }
    uvk_messages_clear(&messages);
    return known;
}

bool print_cell_mistakes(const struct asked *asked)
{
    struct uvk_messages messages;
    struct uvk_value value;
    bool told;

    if (keymap_of(asked) == NULL || strpbrk(asked->word, "/~:+'(") == NULL) {
        return false;
    }
    uvk_messages_init(&messages);
    (void)uvk_cell_read(asked->program, asked->word, &messages, &value);
    for (guint i = 0; i < messages.list->len; i++) {
        char *text = uvk_message_render(g_ptr_array_index(messages.list, i), errors_coloured());
        fputs(text, stderr);
        g_free(text);
    }
    told = messages.errors > 0;
    uvk_messages_clear(&messages);
    return told;
}
