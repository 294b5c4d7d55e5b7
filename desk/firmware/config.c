/* config.c - the configuration header: what this keymap needs of engine and port. */
#include "features.h"

#include "uvrek/firmware.h"
#include "uvrek/pair.h"
#include "uvrek/scan.h"

#include <string.h>

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

static void define_lines(GString *out, unsigned number, const char *lines)
{
    g_string_append_printf(out, "#define UVK_LINES_%u(X)%s\n", number, lines);
}

static void define_wires(GString *out, const struct uvk_board *board)
{
    GString *lines = g_string_new(NULL);
    unsigned second = define_half(out, lines, &board->halves[0], 0, 0);

    define_lines(out, 0, lines->str);
    g_string_truncate(lines, 0);
    if (board->half_count > 1) {
        define_half(out, lines, &board->halves[1], 1, second);
    }
    define_lines(out, 1, lines->str);
    define(out, "UVK_HALVES", board->half_count);
    define(out, "UVK_SECOND_LINE", second);
    g_string_free(lines, TRUE);
}

/* Of each knob of a half the contact that closes first when it turns clockwise, then the other;
 * counted over all knobs. */
static void define_knob_pins(GString *out, const struct uvk_board *board, unsigned half)
{
    g_string_append_printf(out, "#define UVK_KNOBS_%u(X)", half);
    for (unsigned i = 0; i < board->knob_count; i++) {
        const struct uvk_knob *knob = &board->knobs[i];
        const struct uvk_pin *const pins[] = {knob->pins[knob->flipped],
                                              knob->pins[!knob->flipped]};
        append_pins(out, pins, knob->half == half ? 2 : 0, 2 * i);
    }
    g_string_append_c(out, '\n');
}

/* A USB string: UTF-16, low byte first; a comma before each byte, so that it may be empty. */
static void define_text(GString *out, const char *name, const char *text)
{
    glong count = 0;
    gunichar2 *units = g_utf8_to_utf16(text, -1, NULL, &count, NULL);

    g_string_append_printf(out, "#define %s", name);
    for (glong i = 0; i < count; i++) {
        g_string_append_printf(out, ", 0x%02X, 0x%02X", units[i] & 0xFFu,
                               (unsigned)units[i] >> 8);
    }
    g_string_append_c(out, '\n');
    g_free(units);
}

static void define_pin(GString *out, const char *name, const struct uvk_pin *pin)
{
    g_string_append_printf(out, "#define %s(X)", name);
    append_pins(out, &pin, pin != NULL ? 1 : 0, 0);
    g_string_append_c(out, '\n');
}

static unsigned second_knobs(const struct uvk_board *board)
{
    unsigned knobs = 0;

    for (unsigned i = 0; i < board->knob_count; i++) {
        knobs |= board->knobs[i].half == 1 ? 1u << i : 0;
    }
    return knobs;
}

/* What makes a half the main one, by the name that half.h has for it. */
static const char *role_of(const struct uvk_board *board)
{
    return !uvk_halves_by_host(board)       ? "UVK_HALF_WITH_HOST"
           : board->main == UVK_MAIN_SECOND ? "UVK_HALF_HOST_SECOND"
                                            : "UVK_HALF_HOST_FIRST";
}

/* Sixteen bits that stand for the board: what another one has kept is not for it. */
static unsigned board_print(const struct uvk_board *board)
{
    uint32_t sum = uvk_crc32(0, (const uint8_t *)board->name, (uint16_t)strlen(board->name));

    return (sum ^ sum >> 16) & 0xFFFFu;
}

bool keeps_something(const struct uvk_program *program, uint32_t features)
{
    if ((features & FEATURE_BIT(FEATURE_PROBE)) != 0) {
        return false;
    }
    return (features & (FEATURE_BIT(FEATURE_LIVE) | FEATURE_BIT(FEATURE_LIGHT_CELLS))) != 0 ||
           (!uvk_one_controller(program->board) && program->board->main == UVK_MAIN_STORED);
}

static void define_memory(GString *out, const struct uvk_program *program, uint32_t features)
{
    const struct uvk_board *board = program->board;
    const struct uvk_chip *chip = board->chip;

    define(out, "UVK_USE_JOURNAL", keeps_something(program, features));
    define(out, "UVK_BANK_BYTES", chip->bank);
    define(out, "UVK_MEMORY_PIECE", chip->memory_piece);
    define(out, "UVK_ERASE_BYTES", chip->erases);
    define(out, "UVK_ERASE_STANDS_STILL", chip->stands_still);
    define(out, "UVK_FLASH_BYTES", chip->flash);
    define(out, "UVK_BOARD_PRINT", board_print(board));
}

static void define_live(GString *out, const struct uvk_board *board,
                        const struct uvk_image *image, bool live)
{
    define(out, "UVK_USE_DIRECTORY", 0); /* the image is linked in */
    define(out, "UVK_USE_CHECKS", 0);    /* the desk has looked */
    if (live) {
        define(out, "UVK_LIVE_ROOM", uvk_image_room(image));
        define(out, "UVK_CHECK_ROWS", board->chip->check_rows);
    }
}

/* Where each colour stands in a lamp's data. */
static void define_order(GString *out, const char *order)
{
    define(out, "UVK_STRIP_BYTES", (unsigned)strlen(order));
    define(out, "UVK_STRIP_RED", (unsigned)strcspn(order, "r"));
    define(out, "UVK_STRIP_GREEN", (unsigned)strcspn(order, "g"));
    define(out, "UVK_STRIP_BLUE", (unsigned)strcspn(order, "b"));
}

static void define_lamps(GString *out, const struct uvk_board *board, bool used)
{
    unsigned to_power = 0;

    define(out, "UVK_MAX_LAMPS", used ? board->lamp_count : 0);
    g_string_append(out, "#define UVK_LAMP_PINS(X)");
    for (unsigned i = 0; i < board->lamp_count; i++) {
        append_pins(out, &board->lamps[i].pin, 1, i);
        to_power |= board->lamps[i].to_power ? 1u << i : 0;
    }
    g_string_append_c(out, '\n');
    define(out, "UVK_LAMPS_TO_POWER", to_power);
}

static void define_lights(GString *out, const struct uvk_board *board, uint32_t features)
{
    bool strip = (features & FEATURE_BIT(FEATURE_STRIP)) != 0;

    define_pin(out, "UVK_BACKLIGHT_PIN", board->backlight.pin);
    define_pin(out, "UVK_STRIP_PIN", board->strip.pin);
    define(out, "UVK_MAX_STRIP", strip ? uvk_board_strips(board) * board->strip.count : 0);
    define(out, "UVK_OWN_STRIP", strip ? board->strip.count : 0);
    if (strip) {
        define_order(out, board->strip.order);
    }
    define_lamps(out, board, (features & FEATURE_BIT(FEATURE_LAMPS)) != 0);
}

#define KEYBOARD_MA 100u /* without a strip: chip, lamps, backlight */
#define USB_MA_MOST 500u /* that a device may ask for (USB 2.0, 7.2.1) */

static unsigned milliamperes(const struct uvk_board *board, uint32_t features)
{
    bool strip = (features & FEATURE_BIT(FEATURE_STRIP)) != 0;

    return MIN(KEYBOARD_MA + (strip ? board->strip.limit : 0), USB_MA_MOST);
}

static void define_link(GString *out, const struct uvk_board *board)
{
    define(out, "UVK_USE_LINK", !uvk_one_controller(board));
    if (uvk_one_controller(board)) {
        return;
    }
    define(out, "UVK_LINK_BYTES", uvk_link_bytes(board));
    define(out, "UVK_LINK_SPEED", board->link.speed);
    define(out, "UVK_LINK_ANSWER_MS", uvk_link_waits_ms(board));
    define(out, "UVK_LINK_ONE_WIRE", board->link.one_wire);
    define(out, "UVK_LINK_STRAIGHT", board->link.straight);
    define_pin(out, "UVK_LINK_SENDS", board->link.transmit);
    define_pin(out, "UVK_LINK_RECEIVES", board->link.receive);
    define_pin(out, "UVK_HALF_PIN", board->main == UVK_MAIN_PIN ? board->main_pin : NULL);
    define(out, "UVK_HALF_BY_PIN", board->main == UVK_MAIN_PIN);
    define(out, "UVK_SECOND_WINS", board->main == UVK_MAIN_SECOND);
    define(out, "UVK_SECOND_KNOBS", second_knobs(board));
    define(out, "UVK_HALVES_BY_HOST", uvk_halves_by_host(board));
    g_string_append_printf(out, "#define UVK_HALF_ROLE %s\n", role_of(board));
}

char *config_text(const struct uvk_program *program, const struct uvk_image *image,
                  uint32_t features)
{
    const struct uvk_board *board = program->board;
    GString *out = g_string_new("/* made by uvrek build; changes are lost */\n");

    define(out, "UVK_MAX_KEYS", image->keys);
    define(out, "UVK_MAX_LAYERS", image->layers);
    define(out, "UVK_MAX_LINES", image->lines);
    define(out, "UVK_MAX_SENSES", image->senses);
    define(out, "UVK_MAX_KNOBS",
           (features & FEATURE_BIT(FEATURE_KNOBS)) != 0 ? image->rows[UVK_TABLE_KNOBS] : 0);
    for (unsigned i = 0; i < FEATURES; i++) {
        if (feature_texts[i].macro != NULL) {
            define(out, feature_texts[i].macro, (features & FEATURE_BIT(i)) != 0);
        }
    }
    define(out, "UVK_TRACE", 0);
    define_link(out, board);
    define_memory(out, program, features);
    define_live(out, board, image, (features & FEATURE_BIT(FEATURE_LIVE)) != 0);
    define_lights(out, board, features);
    define_wires(out, board);
    define_knob_pins(out, board, 0);
    define_knob_pins(out, board, 1);
    define(out, "UVK_SETTLE_US", (unsigned)(board->settle + 0.5));
    define(out, "UVK_BOOTLOADER_START", board->chip->flash - board->chip->bootloader);
    define(out, "UVK_USB_MILLIAMPERES", milliamperes(board, features));
    define(out, "UVK_USB_VENDOR", board->usb_vendor);
    define(out, "UVK_USB_PRODUCT", board->usb_product);
    define_text(out, "UVK_USB_MAKER", board->usb_maker);
    define_text(out, "UVK_USB_TITLE", board->title);
    return g_string_free(out, FALSE);
}

char *uvk_config_text(const struct uvk_program *program, const uint8_t *image, uint16_t size)
{
    struct uvk_image opened;

    return uvk_image_open(&opened, image, size) == UVK_OK
               ? config_text(program, &opened, features_of(&opened))
               : NULL;
}
