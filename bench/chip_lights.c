/* chip_lights.c - what a simulated chip lights up. */
#include "chip.h"

#include <string.h>

/* Behind the layers stand level, effect, off and the strip's scale. */
static void read_lit(struct chip *chip, struct uvk_rig_lights *lights)
{
    unsigned at = 1 + chip->rig.program->keymap->layer_count;
    uint8_t bytes[260];
    const char *text =
        chip->has_symbols ? chip_say(chip, "peek uvk_keyboard %u", at + 4) : NULL;

    if (text != NULL && chip_hex(text, bytes, sizeof bytes) == at + 4) {
        lights->known = true;
        lights->level = bytes[at + 2] ? 0 : bytes[at];
        lights->effect = bytes[at + 1];
        lights->scale = bytes[at + 3];
    }
}

/* How much of the time PIN is high, thousandths. */
static unsigned share_of(struct chip *chip, const struct uvk_pin *pin)
{
    const char *text = chip_say(chip, "lit %s", pin->name);

    return text != NULL ? (unsigned)g_ascii_strtoull(text, NULL, 10) : 0;
}

#define FULL_SHARE  1000u
#define STRIP_WORDS 7u /* before the bytes: frames, and what they took */

/* A lamp's data in its own order; white is in all three colours. */
static struct uvk_colour lamp_colour(const char *order, const uint8_t *data)
{
    uint8_t white = strlen(order) > 3 ? data[3] : 0;

    return (struct uvk_colour){(uint8_t)(data[strcspn(order, "r")] + white),
                               (uint8_t)(data[strcspn(order, "g")] + white),
                               (uint8_t)(data[strcspn(order, "b")] + white)};
}

/* The words that `strip PIN` answers; NULL: it is not seen. Freed with g_strfreev. */
static char **strip_words(struct chip *chip)
{
    const struct uvk_strip *strip = &chip->rig.program->board->strip;
    const char *text = strip->pin != NULL ? chip_say(chip, "strip %s", strip->pin->name) : NULL;
    char **words = text != NULL ? g_strsplit(text, " ", -1) : NULL;

    if (words != NULL && g_strv_length(words) <= STRIP_WORDS) {
        g_clear_pointer(&words, g_strfreev);
    }
    return words;
}

/* Of the chip that is chosen, into the lamps from FIRST on. */
static void read_strip(struct chip *chip, struct uvk_rig_lights *lights, unsigned first)
{
    const struct uvk_strip *strip = &chip->rig.program->board->strip;
    size_t size = strlen(strip->order);
    uint8_t bytes[4u * UVK_STRIP_MAX];
    char **words = strip_words(chip);
    size_t count = words != NULL ? chip_hex(words[STRIP_WORDS], bytes, sizeof bytes) : 0;

    for (size_t i = 0; i < strip->count && (i + 1) * size <= count; i++) {
        lights->strip[first + i] = lamp_colour(strip->order, bytes + i * size);
    }
    g_strfreev(words);
}

bool chip_lights(struct uvk_rig *rig, struct uvk_rig_lights *lights)
{
    struct chip *chip = (struct chip *)rig;
    const struct uvk_board *board = rig->program->board;
    unsigned strips = uvk_board_strips(board);

    read_lit(chip, lights);
    if (board->backlight.pin != NULL) {
        lights->backlight =
            (uint8_t)((share_of(chip, board->backlight.pin) * UINT8_MAX + FULL_SHARE / 2) /
                      FULL_SHARE);
    }
    for (unsigned i = 0; i < board->lamp_count; i++) {
        bool high = share_of(chip, board->lamps[i].pin) > FULL_SHARE / 2;
        lights->lamps |= high != board->lamps[i].to_power ? (uint8_t)(1u << i) : 0;
    }
    lights->count = strips * board->strip.count;
    for (unsigned i = 0; i < strips; i++) {
        int half = chip_half(chip, i);
        (void)chip_choose(chip, i);
        read_strip(chip, lights, (unsigned)MAX(half, 0) * board->strip.count);
    }
    (void)chip_choose(chip, 0);
    return true;
}

bool chip_timing(struct uvk_rig *rig, struct uvk_strip_timing *timing)
{
    char **words = strip_words((struct chip *)rig);
    unsigned *const numbers[] = {&timing->frames, &timing->zero[0], &timing->zero[1],
                                 &timing->one[0], &timing->one[1],  &timing->rest[0],
                                 &timing->rest[1]};

    for (unsigned i = 0; words != NULL && i < G_N_ELEMENTS(numbers); i++) {
        *numbers[i] = (unsigned)g_ascii_strtoull(words[i], NULL, 10);
    }
    g_strfreev(words);
    return words != NULL;
}

/* The pins that light something. */
bool chip_watch_lights(struct chip *chip)
{
    const struct uvk_board *board = chip->rig.program->board;
    bool good = board->backlight.pin == NULL ||
                chip_say(chip, "watch %s", board->backlight.pin->name) != NULL;

    good = good && (board->strip.pin == NULL ||
                    chip_say(chip, "watch %s", board->strip.pin->name) != NULL);
    for (unsigned i = 0; good && i < board->lamp_count; i++) {
        good = chip_say(chip, "watch %s", board->lamps[i].pin->name) != NULL;
    }
    return good;
}
