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
     5954,
     3250,
     2150,
     {
         [FEATURE_CONSUMER] = 229,     [FEATURE_SYSTEM] = 130,    [FEATURE_MOUSE] = 308,
         [FEATURE_POINTER] = 651,      [FEATURE_BOARD] = 79,      [FEATURE_CHORDS] = 71,
         [FEATURE_HOLDS] = 1382,       [FEATURE_HANDS] = 131,     [FEATURE_AGAIN] = 150,
         [FEATURE_LONG_PRESS] = 136,   [FEATURE_DANCES] = 1164,   [FEATURE_STICKY] = 690,
         [FEATURE_BLOCKS] = 59,        [FEATURE_WHENS] = 156,     [FEATURE_COMBOS] = 1129,
         [FEATURE_LEADER] = 500,       [FEATURE_MACROS] = 931,    [FEATURE_TYPE] = 440,
         [FEATURE_KNOBS] = 500,        [FEATURE_LIVE] = 10450,    [FEATURE_LIGHTS] = 638,
         [FEATURE_LIGHT_CELLS] = 2829, [FEATURE_BACKLIGHT] = 131, [FEATURE_STRIP] = 1472,
         [FEATURE_LAMPS] = 218,
     }},
    {"rp2040",
     7417,
     3010,
     2200,
     {
         [FEATURE_CONSUMER] = 149,     [FEATURE_SYSTEM] = 125,    [FEATURE_MOUSE] = 283,
         [FEATURE_POINTER] = 546,      [FEATURE_BOARD] = 60,      [FEATURE_CHORDS] = 54,
         [FEATURE_HOLDS] = 1110,       [FEATURE_HANDS] = 102,     [FEATURE_AGAIN] = 196,
         [FEATURE_LONG_PRESS] = 151,   [FEATURE_DANCES] = 1018,   [FEATURE_STICKY] = 837,
         [FEATURE_BLOCKS] = 71,        [FEATURE_WHENS] = 231,     [FEATURE_COMBOS] = 1142,
         [FEATURE_LEADER] = 509,       [FEATURE_MACROS] = 850,    [FEATURE_TYPE] = 432,
         [FEATURE_KNOBS] = 441,        [FEATURE_LIVE] = 8690,     [FEATURE_LIGHTS] = 646,
         [FEATURE_LIGHT_CELLS] = 2731, [FEATURE_BACKLIGHT] = 180, [FEATURE_STRIP] = 1775,
         [FEATURE_LAMPS] = 374,
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
