/* estimate.c - about how large a firmware will be, without building it.
 *
 * The numbers are fitted to some seventy builds by tools/estimate, which prints them anew; a
 * test holds them to 5 % of what is built. */
#include "features.h"

#include "uvrek/firmware.h"

#include <string.h>

static const struct known {
    const char *port;
    uint16_t base;    /* bytes of code that every keymap needs */
    uint16_t link;    /* and what a controller in each half adds */
    uint16_t journal; /* is in two features: what both of them have of it */
    uint16_t feature[FEATURES];
} known[] = {
    {"atmega32u4",
     5804,
     2560,
     1690,
     {
         [FEATURE_CONSUMER] = 213,     [FEATURE_SYSTEM] = 116,    [FEATURE_MOUSE] = 296,
         [FEATURE_POINTER] = 553,      [FEATURE_BOARD] = 67,      [FEATURE_CHORDS] = 70,
         [FEATURE_HOLDS] = 1344,       [FEATURE_HANDS] = 72,      [FEATURE_AGAIN] = 144,
         [FEATURE_LONG_PRESS] = 114,   [FEATURE_DANCES] = 1035,   [FEATURE_STICKY] = 662,
         [FEATURE_BLOCKS] = 58,        [FEATURE_WHENS] = 158,     [FEATURE_COMBOS] = 1017,
         [FEATURE_LEADER] = 480,       [FEATURE_MACROS] = 936,    [FEATURE_TYPE] = 441,
         [FEATURE_KNOBS] = 466,        [FEATURE_LIVE] = 8330,     [FEATURE_LIGHTS] = 596,
         [FEATURE_LIGHT_CELLS] = 2394, [FEATURE_BACKLIGHT] = 160, [FEATURE_STRIP] = 1438,
         [FEATURE_LAMPS] = 188,
     }},
    {"rp2040",
     7286,
     2880,
     1700,
     {
         [FEATURE_CONSUMER] = 150,     [FEATURE_SYSTEM] = 120,    [FEATURE_MOUSE] = 279,
         [FEATURE_POINTER] = 544,      [FEATURE_BOARD] = 68,      [FEATURE_CHORDS] = 61,
         [FEATURE_HOLDS] = 1123,       [FEATURE_HANDS] = 101,     [FEATURE_AGAIN] = 202,
         [FEATURE_LONG_PRESS] = 149,   [FEATURE_DANCES] = 1027,   [FEATURE_STICKY] = 828,
         [FEATURE_BLOCKS] = 72,        [FEATURE_WHENS] = 232,     [FEATURE_COMBOS] = 1148,
         [FEATURE_LEADER] = 525,       [FEATURE_MACROS] = 856,    [FEATURE_TYPE] = 433,
         [FEATURE_KNOBS] = 441,        [FEATURE_LIVE] = 8260,     [FEATURE_LIGHTS] = 905,
         [FEATURE_LIGHT_CELLS] = 2608, [FEATURE_BACKLIGHT] = 176, [FEATURE_STRIP] = 1843,
         [FEATURE_LAMPS] = 371,
     }},
};

static const struct known *known_of(const struct uvk_chip *chip)
{
    for (size_t i = 0; i < G_N_ELEMENTS(known); i++) {
        if (strcmp(known[i].port, chip->port) == 0) {
            return &known[i];
        }
    }
    return NULL;
}

size_t uvk_estimate(const struct uvk_program *program, const uint8_t *image, uint16_t size)
{
    const uint32_t both = FEATURE_BIT(FEATURE_LIVE) | FEATURE_BIT(FEATURE_LIGHT_CELLS);
    const struct known *sizes = known_of(program->board->chip);
    struct uvk_image opened;
    uint32_t features;
    size_t bytes;

    if (sizes == NULL || uvk_image_open(&opened, image, size) != UVK_OK) {
        return 0;
    }
    features = features_of(&opened);
    bytes = sizes->base + (size_t)size + (uvk_one_controller(program->board) ? 0 : sizes->link);
    for (unsigned i = 0; i < FEATURES; i++) {
        bytes += (features & FEATURE_BIT(i)) != 0 ? sizes->feature[i] : 0;
    }
    if ((features & both) == both) {
        bytes -= sizes->journal;
    }
    return bytes;
}
