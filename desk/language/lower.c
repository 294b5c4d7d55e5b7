/* lower.c - from the model to a keymap image. */
#include "lowering.h"

#include <string.h>

static bool does_something(const struct uvk_value *value)
{
    return value->kind != UVK_VALUE_THROUGH && value->kind != UVK_VALUE_NOTHING;
}

/* Knobs that do nothing on any layer cost nothing either: the keyboard has none. */
static unsigned used_knobs(const struct uvk_program *program)
{
    const struct uvk_board *board = program->board;

    for (unsigned layer = 0; layer < program->keymap->layer_count; layer++) {
        for (unsigned cell = board->key_count; cell < uvk_board_cells(board); cell++) {
            if (does_something(&program->keymap->layers[layer].cells[cell])) {
                return board->knob_count;
            }
        }
    }
    return 0;
}

static uvk_action *lower_cells(struct lowering *lowering)
{
    const struct uvk_keymap *keymap = lowering->program->keymap;
    unsigned keys = lowering->keys;
    uvk_action *cells = g_new(uvk_action, keymap->layer_count * (size_t)keys);

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned key = 0; key < keys; key++) {
            cells[layer * (size_t)keys + key] =
                lower_value(lowering, &keymap->layers[layer].cells[key]);
        }
    }
    return cells;
}

/* Tap-hold keys and dances need the feels; a `once` needs the hold-after of the first. */
static void lower_feels(struct lowering *lowering)
{
    static const uint8_t rules[] = {0, UVK_FEEL_ON_PRESS, UVK_FEEL_ON_NESTED,
                                    UVK_FEEL_TAP_PRESS | UVK_FEEL_LONG};
    const struct uvk_keymap *keymap = lowering->program->keymap;

    if (lowering->holds->len + lowering->dances->len == 0) {
        struct uvk_feel first = {.hold_after = milliseconds(keymap->feels[0].hold_after)};
        g_array_append_vals(lowering->feels, &first, lowering->once);
        return;
    }
    for (unsigned i = 0; i < keymap->feel_count; i++) {
        const struct uvk_feel_text *text = &keymap->feels[i];
        struct uvk_feel feel = {milliseconds(text->hold_after), milliseconds(text->rest),
                                milliseconds(text->again), rules[text->decide]};
        feel.flags |= text->alone_tap ? UVK_FEEL_ALONE_TAP : 0;
        feel.flags |= text->other_hand ? UVK_FEEL_HAND : 0;
        g_array_append_val(lowering->feels, feel);
    }
}

static void lower_whens(struct lowering *lowering)
{
    const struct uvk_keymap *keymap = lowering->program->keymap;

    for (unsigned i = 0; i < keymap->layer_count; i++) {
        const struct uvk_layer_text *layer = &keymap->layers[i];
        struct uvk_when_row row = {(uint8_t)i, (uint8_t)layer->when[0],
                                   (uint8_t)layer->when[1]};
        if (layer->has_when) {
            g_array_append_val(lowering->whens, row);
        }
    }
}

static void add_part(struct lowering *lowering, unsigned part)
{
    uint8_t byte = (uint8_t)part;

    g_array_append_val(lowering->parts, byte);
}

static void lower_combos(struct lowering *lowering)
{
    for (const struct uvk_combo_text *text = lowering->program->keymap->combos; text != NULL;
         text = text->next) {
        struct uvk_combo combo = {
            .action = lower_value(lowering, &text->value),
            .within = milliseconds(text->within),
            .flags = text->last_up ? UVK_COMBO_LAST_UP : 0,
            .keys = (uint8_t)text->key_count,
            .first = (uint16_t)lowering->parts->len,
        };
        g_array_append_val(lowering->combos, combo);
        for (unsigned i = 0; i < text->key_count; i++) {
            add_part(lowering, text->keys[i]);
        }
        add_part(lowering, text->layer_count);
        for (unsigned i = 0; i < text->layer_count; i++) {
            add_part(lowering, text->layers[i]);
        }
    }
}

static uvk_action lower_line(struct lowering *lowering, const struct uvk_value *line)
{
    return line->kind == UVK_VALUE_BROKEN ? UVK_SEE_THROUGH : lower_value(lowering, line);
}

static void lower_dances(struct lowering *lowering)
{
    const struct uvk_keymap *keymap = lowering->program->keymap;

    for (unsigned i = 0; i < keymap->dance_count; i++) {
        const struct uvk_dance_text *text = &keymap->dances[i];
        struct uvk_dance dance = {milliseconds(text->within), (uint16_t)lowering->lines->len,
                                  (uint8_t)text->taps};
        g_array_append_val(lowering->dances, dance);
        for (unsigned taps = 0; taps < text->taps; taps++) {
            uvk_action tapped = lower_line(lowering, &text->lines[taps].tapped);
            uvk_action held = lower_line(lowering, &text->lines[taps].held);
            g_array_append_val(lowering->lines, tapped);
            g_array_append_val(lowering->lines, held);
        }
    }
}

static void lower_sequences(struct lowering *lowering)
{
    for (const struct uvk_sequence_text *text = lowering->program->keymap->sequences;
         text != NULL; text = text->next) {
        struct uvk_sequence sequence = {lower_value(lowering, &text->value),
                                        (uint16_t)lowering->parts->len,
                                        (uint8_t)text->key_count};
        g_array_append_val(lowering->sequences, sequence);
        for (unsigned i = 0; i < text->key_count; i++) {
            add_part(lowering, text->keys[i]);
        }
    }
}

static uint8_t *lower_switches(const struct uvk_board *board, const struct uvk_scan_plan *scan)
{
    size_t count = (size_t)scan->line_count * scan->sense_count;
    uint8_t *switches = g_malloc(count + 1);

    memset(switches, UVK_NO_KEY, count);
    for (unsigned i = 0; i < board->key_count; i++) {
        unsigned line;
        unsigned sense = 0;
        uvk_scan_switch(scan, board, i, &line, &sense);
        switches[(size_t)line * scan->sense_count + sense] = (uint8_t)i;
    }
    return switches;
}

static uint8_t *lower_knobs(const struct lowering *lowering)
{
    const struct uvk_board *board = lowering->program->board;
    uint8_t *knobs = g_malloc(lowering->knobs + 1);

    for (unsigned i = 0; i < lowering->knobs; i++) {
        knobs[i] = (uint8_t)board->knobs[i].detent;
    }
    return knobs;
}

static void set_hand(uint8_t *hands, unsigned key, enum uvk_hand hand)
{
    hands[key / 4] |= (uint8_t)((unsigned)hand << 2 * (key % 4));
}

/* The hand of each key, if any feel asks for it. */
static uint8_t *lower_hands(const struct lowering *lowering, uint16_t *count)
{
    const struct uvk_board *board = lowering->program->board;
    uint8_t *hands = g_malloc0(UVK_KEYS_MAX / 4 + 1);
    bool asked = false;

    for (guint i = 0; i < lowering->feels->len; i++) {
        asked |=
            (g_array_index(lowering->feels, struct uvk_feel, i).flags & UVK_FEEL_HAND) != 0;
    }
    for (unsigned i = 0; i < board->key_count; i++) {
        set_hand(hands, i, board->keys[i].hand);
    }
    for (unsigned i = 0; i < 2 * lowering->knobs; i++) {
        set_hand(hands, board->key_count + i, board->knobs[i / 2].hand);
    }
    *count = asked ? (uint16_t)((lowering->keys + 3) / 4) : 0;
    return hands;
}

/* As the image counts: milliseconds, or the number itself. */
static void lower_settings(const struct uvk_keymap *keymap, uint16_t *settings)
{
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        double value = keymap->settings[i].value;
        settings[i] = uvk_setting_names[i].unit == NULL ? milliseconds(value) : (uint16_t)value;
    }
}

static struct lowering begin(struct uvk_program *program)
{
    struct lowering lowering = {
        .program = program,
        .chords = g_array_new(FALSE, TRUE, sizeof(struct uvk_chord_row)),
        .holds = g_array_new(FALSE, TRUE, sizeof(struct uvk_hold_row)),
        .feels = g_array_new(FALSE, TRUE, sizeof(struct uvk_feel)),
        .whens = g_array_new(FALSE, TRUE, sizeof(struct uvk_when_row)),
        .combos = g_array_new(FALSE, TRUE, sizeof(struct uvk_combo)),
        .parts = g_array_new(FALSE, TRUE, sizeof(uint8_t)),
        .steps = g_array_new(FALSE, TRUE, sizeof(struct uvk_macro_step)),
        .texts = g_array_new(FALSE, TRUE, sizeof(uint8_t)),
        .dances = g_array_new(FALSE, TRUE, sizeof(struct uvk_dance)),
        .lines = g_array_new(FALSE, TRUE, sizeof(uvk_action)),
        .sequences = g_array_new(FALSE, TRUE, sizeof(struct uvk_sequence)),
        .macros = g_new0(unsigned, program->keymap->macro_count + 1),
    };
    return lowering;
}

static void end(struct lowering *lowering)
{
    g_array_free(lowering->chords, TRUE);
    g_array_free(lowering->holds, TRUE);
    g_array_free(lowering->feels, TRUE);
    g_array_free(lowering->whens, TRUE);
    g_array_free(lowering->combos, TRUE);
    g_array_free(lowering->parts, TRUE);
    g_array_free(lowering->steps, TRUE);
    g_array_free(lowering->texts, TRUE);
    g_array_free(lowering->dances, TRUE);
    g_array_free(lowering->lines, TRUE);
    g_array_free(lowering->sequences, TRUE);
    g_free(lowering->macros);
}

/* Write the image, or say why it cannot be. */
static uint8_t *write_image(struct uvk_program *program, const struct uvk_image_plan *plan,
                            uint16_t *size)
{
    size_t bytes = uvk_image_size(plan);
    uint8_t *image = g_malloc(bytes);
    enum uvk_status status = UVK_NO_SPACE;

    if (plan->chord_count <= UVK_ROWS_MAX && plan->hold_count <= UVK_HOLDS_MAX &&
        plan->dance_count <= UVK_HOLDS_MAX && plan->step_count <= UVK_ROWS_MAX) {
        status = uvk_image_write(plan, image, bytes);
    }
    *size = (uint16_t)bytes;
    if (status == UVK_OK) {
        return image;
    }
    if (status == UVK_NO_SPACE) {
        uvk_say(&program->messages, UVK_SAYS_NO_ROOM, program->keymap->place, NULL,
                "this keymap takes %zu bytes, %u chords, %u tap-holds, %u dances, %u steps of "
                "macros; an image has at most %u bytes, %u chords, %u tap-holds, %u dances, %u "
                "steps",
                bytes, plan->chord_count, plan->hold_count, plan->dance_count, plan->step_count,
                UVK_IMAGE_MAX, UVK_ROWS_MAX, UVK_HOLDS_MAX, UVK_HOLDS_MAX, UVK_ROWS_MAX);
    } else {
        uvk_say(&program->messages, UVK_SAYS_NO_ROOM, program->keymap->place, NULL,
                "the image was refused: %s", uvk_status_text(status));
    }
    g_free(image);
    return NULL;
}

uint8_t *uvk_lower(struct uvk_program *program, uint16_t *size)
{
    const struct uvk_board *board = program->board;
    const struct uvk_keymap *keymap = program->keymap;
    struct lowering lowering = begin(program);
    struct uvk_scan_plan scan = uvk_board_scan(board);
    uvk_action *cells;
    uint8_t *switches = lower_switches(board, &scan);
    uint8_t *knobs;
    uint8_t *hands;
    uint16_t hand_count;
    struct uvk_image_plan plan;
    uint8_t *image;

    lowering.knobs = used_knobs(program);
    lowering.keys = board->key_count + 2 * lowering.knobs;
    lower_macros(&lowering); /* first: cells and combos name their rows */
    cells = lower_cells(&lowering);
    lower_combos(&lowering);
    lower_dances(&lowering);
    lower_sequences(&lowering);
    knobs = lower_knobs(&lowering); /* the feels last: any of these may be a tap-hold */
    lower_feels(&lowering);
    lower_whens(&lowering);
    hands = lower_hands(&lowering, &hand_count);
    plan = (struct uvk_image_plan){
        .keys = (uint8_t)lowering.keys,
        .layers = (uint8_t)keymap->layer_count,
        .lines = (uint8_t)scan.line_count,
        .senses = (uint8_t)scan.sense_count,
        .switches = switches,
        .cells = cells,
        .chords = (const struct uvk_chord_row *)(void *)lowering.chords->data,
        .chord_count = (uint16_t)MIN(lowering.chords->len, UINT16_MAX),
        .holds = (const struct uvk_hold_row *)(void *)lowering.holds->data,
        .hold_count = (uint16_t)MIN(lowering.holds->len, UINT16_MAX),
        .feels = (const struct uvk_feel *)(void *)lowering.feels->data,
        .feel_count = (uint16_t)lowering.feels->len,
        .whens = (const struct uvk_when_row *)(void *)lowering.whens->data,
        .when_count = (uint16_t)lowering.whens->len,
        .combos = (const struct uvk_combo *)(void *)lowering.combos->data,
        .combo_count = (uint16_t)lowering.combos->len,
        .parts = (const uint8_t *)lowering.parts->data,
        .part_count = (uint16_t)MIN(lowering.parts->len, UINT16_MAX),
        .steps = (const struct uvk_macro_step *)(void *)lowering.steps->data,
        .step_count = (uint16_t)MIN(lowering.steps->len, UINT16_MAX),
        .texts = (const uint8_t *)lowering.texts->data,
        .text_count = (uint16_t)MIN(lowering.texts->len, UINT16_MAX),
        .dances = (const struct uvk_dance *)(void *)lowering.dances->data,
        .dance_count = (uint16_t)MIN(lowering.dances->len, UINT16_MAX),
        .dance_lines = (const uvk_action *)(void *)lowering.lines->data,
        .line_count = (uint16_t)MIN(lowering.lines->len, UINT16_MAX),
        .sequences = (const struct uvk_sequence *)(void *)lowering.sequences->data,
        .sequence_count = (uint16_t)lowering.sequences->len,
        .knobs = knobs,
        .knob_count = (uint16_t)lowering.knobs,
    };
    plan.hands = hands;
    plan.hand_count = hand_count;
    lower_settings(keymap, plan.settings);
    image = write_image(program, &plan, size);
    end(&lowering);
    g_free(cells);
    g_free(switches);
    g_free(knobs);
    g_free(hands);
    return image;
}
