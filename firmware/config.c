/* config.c - the configuration header: what this keymap needs of engine and port. */
#include "parts.h"

#include "uvrek/image.h"

#include <string.h>

struct uses {
    bool consumer, system, mouse, pointer, board, sticky, blocks, leader, long_press, again,
        type;
};

static void note_action(struct uses *uses, uvk_action action)
{
    if (action == UVK_SEE_THROUGH) {
        return;
    }
    if (uvk_action_kind(action) == UVK_MODS ||
        (uvk_action_kind(action) == UVK_LAYER && uvk_action_how(action) != UVK_LAYER_WHILE)) {
        uses->sticky = true;
    } else if (uvk_action_kind(action) == UVK_CONSUMER) {
        uses->consumer = true;
    } else if (uvk_action_kind(action) == UVK_DEVICE) {
        uint8_t device = uvk_action_how(action);
        uses->system |= device == UVK_DEVICE_SYSTEM;
        uses->pointer |= device == UVK_DEVICE_POINT || device == UVK_DEVICE_PACE;
        uses->mouse |= device == UVK_DEVICE_CLICK || device == UVK_DEVICE_WHEEL ||
                       device == UVK_DEVICE_POINT;
        uses->blocks |= device == UVK_DEVICE_BLOCK;
        uses->leader |= device == UVK_DEVICE_LEADER;
        uses->long_press |= device == UVK_DEVICE_LONG_PRESS;
        uses->board |= device == UVK_DEVICE_BOARD;
    }
}

/* A wheel on a key goes on turning while the key is held; on a knob it never is. Where else
 * one stands (a combo, a dance) does not make enough difference to look. */
static bool wheel_is_held(const struct uvk_image *image)
{
    unsigned switches = image->keys - 2u * image->rows[UVK_TABLE_KNOBS];

    for (unsigned layer = 0; layer < image->layers; layer++) {
        for (unsigned key = 0; key < switches; key++) {
            uvk_action action = uvk_image_cell(image, (uint8_t)layer, (uint8_t)key);
            if (uvk_action_kind(action) == UVK_DEVICE &&
                uvk_action_how(action) == UVK_DEVICE_WHEEL) {
                return uvk_image_setting(image, UVK_SET_WHEEL_SPEED) > 0;
            }
        }
    }
    return false;
}

static struct uses find_uses(const struct uvk_image *image)
{
    struct uses uses = {.consumer = false};

    for (unsigned layer = 0; layer < image->layers; layer++) {
        for (unsigned key = 0; key < image->keys; key++) {
            note_action(&uses, uvk_image_cell(image, (uint8_t)layer, (uint8_t)key));
        }
    }
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_CHORDS]; row++) {
        uint8_t mods;
        note_action(&uses, uvk_image_chord(image, row, &mods));
    }
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_STEPS]; row++) {
        struct uvk_macro_step macro_step = uvk_image_step(image, row);
        if (macro_step.op == UVK_OP_PRESS) {
            note_action(&uses, macro_step.operand);
        }
        uses.type |= macro_step.op == UVK_OP_TYPE;
    }
    for (unsigned row = 0; row < image->rows[UVK_TABLE_COMBOS]; row++) {
        note_action(&uses, uvk_image_combo(image, (uint8_t)row).action);
    }
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_LINES]; row++) {
        note_action(&uses, uvk_image_line(image, row));
    }
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_SEQUENCES]; row++) {
        note_action(&uses, uvk_image_sequence(image, row).action);
        uses.leader = true;
    }
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_HOLDS]; row++) {
        uvk_action tap;
        uint8_t feel;
        note_action(&uses, uvk_image_hold(image, row, &tap, &feel));
        note_action(&uses, tap);
    }
    for (unsigned row = 0; row < image->rows[UVK_TABLE_FEELS]; row++) {
        struct uvk_feel feel = uvk_image_feel(image, (uint8_t)row);
        uses.long_press |= (feel.flags & UVK_FEEL_LONG) != 0;
        uses.again |= feel.again != 0;
    }
    uses.pointer |= wheel_is_held(image);
    return uses;
}

static void define(GString *out, const char *name, unsigned value)
{
    g_string_append_printf(out, "#define %s %u\n", name, value);
}

/* NAME(X): one X(index, port, bit) for each pin, counted from FIRST. */
static void append_pins(GString *out, const struct uvk_pin *const *pins, unsigned count,
                        unsigned first)
{
    for (unsigned i = 0; i < count; i++) {
        g_string_append_printf(out, " X(%u, %c, %u)", first + i, pins[i]->port, pins[i]->bit);
    }
}

/* Half NUMBER's lines begin at line FIRST; behind them is the one of its direct switches.
 * Returns the line behind those. */
static unsigned define_half(GString *out, GString *lines, const struct uvk_half *half,
                            unsigned number, unsigned first)
{
    bool rows = uvk_rows_are_lines(half);
    unsigned count = rows ? half->row_count : half->col_count;

    append_pins(lines, rows ? half->rows : half->cols, count, first);
    g_string_append_printf(out, "#define UVK_SENSES_%u(X)", number);
    append_pins(out, rows ? half->cols : half->rows, rows ? half->col_count : half->row_count,
                0);
    g_string_append_printf(out, "\n#define UVK_DIRECT_%u(X)", number);
    append_pins(out, half->direct, half->direct_count, 0);
    g_string_append_printf(out,
                           "\n#define UVK_DIRECT_COUNT_%u %u\n#define UVK_DIRECT_LINE_%u "
                           "%u\n#define UVK_TO_POWER_%u %d\n",
                           number, half->direct_count, number, first + count, number,
                           half->to_power);
    return first + count + (half->direct_count > 0 ? 1 : 0);
}

static void define_wires(GString *out, const struct uvk_board *board)
{
    GString *lines = g_string_new(NULL);
    unsigned second = define_half(out, lines, &board->halves[0], 0, 0);

    if (board->half_count > 1) {
        define_half(out, lines, &board->halves[1], 1, second);
    }
    define(out, "UVK_HALVES", board->half_count);
    define(out, "UVK_SECOND_LINE", second);
    g_string_append_printf(out, "#define UVK_LINES(X)%s\n", lines->str);
    g_string_free(lines, TRUE);
}

/* Of each knob the contact that closes first when it turns clockwise, then the other. */
static void define_knob_pins(GString *out, const struct uvk_board *board)
{
    const struct uvk_pin *pins[2 * UVK_KNOBS_MAX];

    for (unsigned i = 0; i < 2 * board->knob_count; i++) {
        const struct uvk_knob *knob = &board->knobs[i / 2];
        pins[i] = knob->pins[knob->flipped ? 1 - i % 2 : i % 2];
    }
    g_string_append(out, "#define UVK_KNOBS(X)");
    append_pins(out, pins, 2 * board->knob_count, 0);
    g_string_append_c(out, '\n');
}

/* A USB string: UTF-16, low byte first. */
static void define_text(GString *out, const char *name, const char *text)
{
    glong count = 0;
    gunichar2 *units = g_utf8_to_utf16(text, -1, NULL, &count, NULL);

    g_string_append_printf(out, "#define %s ", name);
    for (glong i = 0; i < count; i++) {
        g_string_append_printf(out, "%s0x%02X, 0x%02X", i > 0 ? ", " : "", units[i] & 0xFFu,
                               (unsigned)units[i] >> 8);
    }
    g_string_append_c(out, '\n');
    g_free(units);
}

char *uvk_config_text(const struct uvk_program *program, const uint8_t *image, uint16_t size)
{
    const struct uvk_board *board = program->board;
    GString *out = g_string_new("/* made by uvrek build; changes are lost */\n");
    struct uvk_image opened;
    struct uses uses;

    if (uvk_image_open(&opened, image, size) != UVK_OK) {
        g_string_free(out, TRUE);
        return NULL;
    }
    uses = find_uses(&opened);
    define(out, "UVK_MAX_KEYS", opened.keys);
    define(out, "UVK_MAX_LAYERS", opened.layers);
    define(out, "UVK_MAX_LINES", opened.lines);
    define(out, "UVK_MAX_SENSES", opened.senses);
    define(out, "UVK_USE_CONSUMER", uses.consumer);
    define(out, "UVK_USE_SYSTEM", uses.system);
    define(out, "UVK_USE_MOUSE", uses.mouse);
    define(out, "UVK_USE_POINTER", uses.pointer);
    define(out, "UVK_USE_BOARD", uses.board);
    define(out, "UVK_USE_CHORDS", opened.rows[UVK_TABLE_CHORDS] > 0);
    define(out, "UVK_USE_HOLDS",
           opened.rows[UVK_TABLE_HOLDS] + opened.rows[UVK_TABLE_DANCES] > 0);
    define(out, "UVK_USE_HANDS", opened.rows[UVK_TABLE_HANDS] > 0);
    define(out, "UVK_USE_AGAIN", uses.again);
    define(out, "UVK_USE_LONG_PRESS", uses.long_press);
    define(out, "UVK_USE_TYPE", uses.type);
    define(out, "UVK_USE_DANCES", opened.rows[UVK_TABLE_DANCES] > 0);
    define(out, "UVK_USE_LEADER", uses.leader);
    define(out, "UVK_USE_BLOCKS", uses.blocks);
    define(out, "UVK_MAX_KNOBS", opened.rows[UVK_TABLE_KNOBS]);
    define(out, "UVK_USE_MACROS", opened.rows[UVK_TABLE_STEPS] > 0);
    define(out, "UVK_USE_COMBOS", opened.rows[UVK_TABLE_COMBOS] > 0);
    define(out, "UVK_USE_STICKY", uses.sticky);
    define(out, "UVK_USE_WHENS", opened.rows[UVK_TABLE_WHENS] > 0);
    define(out, "UVK_TRACE", 0);
    define_wires(out, board);
    define_knob_pins(out, board);
    define(out, "UVK_SETTLE_US", (unsigned)(board->settle + 0.5));
    define(out, "UVK_BOOTLOADER_START", board->chip->flash - board->chip->bootloader);
    define(out, "UVK_USB_VENDOR", board->usb_vendor);
    define(out, "UVK_USB_PRODUCT", board->usb_product);
    define_text(out, "UVK_USB_MAKER", board->usb_maker);
    define_text(out, "UVK_USB_TITLE", board->title);
    return g_string_free(out, FALSE);
}
