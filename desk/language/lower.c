/* lower.c - from the model to a keymap image. */
#include "lowering.h"

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

static void lower_cells(struct lowering *lowering)
{
    const struct uvk_keymap *keymap = lowering->program->keymap;

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned key = 0; key < lowering->keys; key++) {
            uvk_action cell = lower_value(lowering, &keymap->layers[layer].cells[key]);
            add_row(lowering, UVK_TABLE_CELLS, &cell);
        }
    }
}

/* Tap-hold keys and dances need the feels; a `once` needs the hold-after of the first. */
static void lower_feels(struct lowering *lowering)
{
    static const uint8_t rules[] = {0, UVK_FEEL_ON_PRESS, UVK_FEEL_ON_NESTED,
                                    UVK_FEEL_TAP_PRESS | UVK_FEEL_LONG};
    const struct uvk_keymap *keymap = lowering->program->keymap;

    if (ROWS(lowering, UVK_TABLE_HOLDS) + ROWS(lowering, UVK_TABLE_DANCES) == 0) {
        struct uvk_feel first = {.hold_after = milliseconds(keymap->feels[0].hold_after)};
        g_array_append_vals(lowering->tables[UVK_TABLE_FEELS], &first, lowering->once);
        return;
    }
    for (unsigned i = 0; i < keymap->feel_count; i++) {
        const struct uvk_feel_text *text = &keymap->feels[i];
        struct uvk_feel feel = {milliseconds(text->hold_after), milliseconds(text->rest),
                                milliseconds(text->again), rules[text->decide]};
        feel.flags |= text->alone_tap ? UVK_FEEL_ALONE_TAP : 0;
        feel.flags |= text->other_hand ? UVK_FEEL_HAND : 0;
        add_row(lowering, UVK_TABLE_FEELS, &feel);
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
            add_row(lowering, UVK_TABLE_WHENS, &row);
        }
    }
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
            .first = (uint16_t)ROWS(lowering, UVK_TABLE_PARTS),
        };
        add_row(lowering, UVK_TABLE_COMBOS, &combo);
        for (unsigned i = 0; i < text->key_count; i++) {
            add_byte(lowering, UVK_TABLE_PARTS, text->keys[i]);
        }
        add_byte(lowering, UVK_TABLE_PARTS, text->layer_count);
        for (unsigned i = 0; i < text->layer_count; i++) {
            add_byte(lowering, UVK_TABLE_PARTS, text->layers[i]);
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
        struct uvk_dance dance = {milliseconds(text->within),
                                  (uint16_t)ROWS(lowering, UVK_TABLE_LINES),
                                  (uint8_t)text->taps};
        add_row(lowering, UVK_TABLE_DANCES, &dance);
        for (unsigned taps = 0; taps < text->taps; taps++) {
            uvk_action tapped = lower_line(lowering, &text->lines[taps].tapped);
            uvk_action held = lower_line(lowering, &text->lines[taps].held);
            add_row(lowering, UVK_TABLE_LINES, &tapped);
            add_row(lowering, UVK_TABLE_LINES, &held);
        }
    }
}

static void lower_sequences(struct lowering *lowering)
{
    for (const struct uvk_sequence_text *text = lowering->program->keymap->sequences;
         text != NULL; text = text->next) {
        struct uvk_sequence sequence = {lower_value(lowering, &text->value),
                                        (uint16_t)ROWS(lowering, UVK_TABLE_PARTS),
                                        (uint8_t)text->key_count};
        add_row(lowering, UVK_TABLE_SEQUENCES, &sequence);
        for (unsigned i = 0; i < text->key_count; i++) {
            add_byte(lowering, UVK_TABLE_PARTS, text->keys[i]);
        }
    }
}

static void lower_switches(struct lowering *lowering, const struct uvk_scan_plan *scan)
{
    const struct uvk_board *board = lowering->program->board;
    GArray *switches = lowering->tables[UVK_TABLE_SWITCHES];

    for (unsigned point = 0; point < scan->line_count * scan->sense_count; point++) {
        add_byte(lowering, UVK_TABLE_SWITCHES, UVK_NO_KEY);
    }
    for (unsigned i = 0; i < board->key_count; i++) {
        unsigned line;
        unsigned sense = 0;
        uvk_scan_switch(scan, board, i, &line, &sense);
        g_array_index(switches, uint8_t, line * scan->sense_count + sense) = (uint8_t)i;
    }
}

static void lower_knobs(struct lowering *lowering)
{
    for (unsigned i = 0; i < lowering->knobs; i++) {
        add_byte(lowering, UVK_TABLE_KNOBS, lowering->program->board->knobs[i].detent);
    }
}

static bool asks_for_hands(const struct lowering *lowering)
{
    for (guint i = 0; i < ROWS(lowering, UVK_TABLE_FEELS); i++) {
        if (ROW(lowering, UVK_TABLE_FEELS, struct uvk_feel, i).flags & UVK_FEEL_HAND) {
            return true;
        }
    }
    return false;
}

static enum uvk_hand hand_of(const struct uvk_board *board, unsigned key)
{
    return key < board->key_count ? board->keys[key].hand
                                  : board->knobs[(key - board->key_count) / 2].hand;
}

/* The hand of each key, if any feel asks for it: four in a byte. */
static void lower_hands(struct lowering *lowering)
{
    for (unsigned key = 0; asks_for_hands(lowering) && key < lowering->keys; key += 4) {
        unsigned byte = 0;
        for (unsigned i = 0; i < 4 && key + i < lowering->keys; i++) {
            byte |= (unsigned)hand_of(lowering->program->board, key + i) << 2 * i;
        }
        add_byte(lowering, UVK_TABLE_HANDS, byte);
    }
}

/* As the image counts: milliseconds, or the number itself. */
static void lower_settings(struct lowering *lowering)
{
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        double value = lowering->program->keymap->settings[i].value;
        uint16_t word =
            uvk_setting_names[i].unit == NULL ? milliseconds(value) : (uint16_t)value;
        add_row(lowering, UVK_TABLE_SETTINGS, &word);
    }
}

static struct lowering begin(struct uvk_program *program)
{
    struct lowering lowering = {
        .program = program,
        .macros = g_new0(unsigned, program->keymap->macro_count + 1),
        .knobs = used_knobs(program),
    };

    lowering.keys = program->board->key_count + 2 * lowering.knobs;
    for (int table = 0; table < UVK_TABLES; table++) {
        lowering.tables[table] =
            g_array_new(FALSE, TRUE, (guint)uvk_plan_row_size((enum uvk_table)table));
    }
    return lowering;
}

static void end(struct lowering *lowering)
{
    for (int table = 0; table < UVK_TABLES; table++) {
        g_array_free(lowering->tables[table], TRUE);
    }
    g_free(lowering->macros);
}

static bool has_room(const struct lowering *lowering)
{
    return ROWS(lowering, UVK_TABLE_CHORDS) <= UVK_ROWS_MAX &&
           ROWS(lowering, UVK_TABLE_HOLDS) <= UVK_HOLDS_MAX &&
           ROWS(lowering, UVK_TABLE_DANCES) <= UVK_HOLDS_MAX &&
           ROWS(lowering, UVK_TABLE_STEPS) <= UVK_ROWS_MAX;
}

/* Write the image, or say why it cannot be. */
static uint8_t *write_image(const struct lowering *lowering, const struct uvk_image_plan *plan,
                            uint16_t *size)
{
    struct uvk_program *program = lowering->program;
    size_t bytes = uvk_image_size(plan);
    uint8_t *image = g_malloc(bytes);
    enum uvk_status status =
        has_room(lowering) ? uvk_image_write(plan, image, bytes) : UVK_NO_SPACE;

    *size = (uint16_t)bytes;
    if (status == UVK_OK) {
        return image;
    }
    if (status == UVK_NO_SPACE) {
        uvk_say(&program->messages, UVK_SAYS_NO_ROOM, program->keymap->place, NULL,
                "this keymap takes %zu bytes, %u chords, %u tap-holds, %u dances, %u steps of "
                "macros; an image has at most %u bytes, %u chords, %u tap-holds, %u dances, %u "
                "steps",
                bytes, ROWS(lowering, UVK_TABLE_CHORDS), ROWS(lowering, UVK_TABLE_HOLDS),
                ROWS(lowering, UVK_TABLE_DANCES), ROWS(lowering, UVK_TABLE_STEPS),
                UVK_IMAGE_MAX, UVK_ROWS_MAX, UVK_HOLDS_MAX, UVK_HOLDS_MAX, UVK_ROWS_MAX);
    } else {
        uvk_say(&program->messages, UVK_SAYS_NO_ROOM, program->keymap->place, NULL,
                "the image was refused: %s", uvk_status_text(status));
    }
    g_free(image);
    return NULL;
}

/* The first line of the second half; 0: there is none. */
static uint8_t second_line(const struct uvk_scan_plan *scan)
{
    unsigned line = 0;

    while (line < scan->line_count && scan->lines[line].half == 0) {
        line++;
    }
    return (uint8_t)(line < scan->line_count ? line : 0);
}

uint8_t *uvk_lower(struct uvk_program *program, uint16_t *size)
{
    struct uvk_scan_plan scan = uvk_board_scan(program->board);
    struct lowering lowering = begin(program);
    struct uvk_image_plan plan = {
        .keys = (uint8_t)lowering.keys,
        .layers = (uint8_t)program->keymap->layer_count,
        .lines = (uint8_t)scan.line_count,
        .senses = (uint8_t)scan.sense_count,
        .second = second_line(&scan),
        .room = (uint16_t)program->keymap->live_room,
    };
    uint8_t *image;

    lower_macros(&lowering); /* first: cells and combos name their rows */
    lower_cells(&lowering);
    lower_combos(&lowering);
    lower_dances(&lowering);
    lower_sequences(&lowering);
    lower_feels(&lowering); /* behind all that may be a tap-hold */
    lower_hands(&lowering);
    lower_whens(&lowering);
    lower_switches(&lowering, &scan);
    lower_settings(&lowering);
    lower_knobs(&lowering);
    lower_lights(&lowering, &scan);
    for (int table = 0; table < UVK_TABLES; table++) {
        plan.tables[table].rows = lowering.tables[table]->data;
        plan.tables[table].count = lowering.tables[table]->len;
    }
    image = write_image(&lowering, &plan, size);
    end(&lowering);
    return image;
}

bool uvk_program_same(struct uvk_program *one, struct uvk_program *other)
{
    uint16_t sizes[2] = {0, 0};
    uint8_t *images[2];
    bool same;

    if (one->keymap == NULL || other->keymap == NULL) {
        return one->keymap == other->keymap;
    }
    images[0] = uvk_lower(one, &sizes[0]);
    images[1] = uvk_lower(other, &sizes[1]);
    same = images[0] != NULL && images[1] != NULL && sizes[0] == sizes[1] &&
           memcmp(images[0], images[1], sizes[0]) == 0;
    g_free(images[0]);
    g_free(images[1]);
    return same;
}
