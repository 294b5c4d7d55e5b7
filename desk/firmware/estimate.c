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
    uint16_t journal; /* and what a keyboard does that keeps something */
    uint16_t feature[FEATURES];
} known[] = {
    {"atmega32u4",
     5839,
     2760,
     1690,
     {
         [FEATURE_CONSUMER] = 262,    [FEATURE_SYSTEM] = 149,    [FEATURE_MOUSE] = 270,
         [FEATURE_POINTER] = 604,     [FEATURE_BOARD] = 44,      [FEATURE_CHORDS] = 71,
         [FEATURE_HOLDS] = 1259,      [FEATURE_HANDS] = 70,      [FEATURE_AGAIN] = 174,
         [FEATURE_LONG_PRESS] = 125,  [FEATURE_DANCES] = 989,    [FEATURE_STICKY] = 659,
         [FEATURE_BLOCKS] = 52,       [FEATURE_WHENS] = 144,     [FEATURE_COMBOS] = 985,
         [FEATURE_LEADER] = 372,      [FEATURE_MACROS] = 895,    [FEATURE_TYPE] = 432,
         [FEATURE_KNOBS] = 461,       [FEATURE_LIVE] = 6740,     [FEATURE_LIGHTS] = 469,
         [FEATURE_LIGHT_CELLS] = 743, [FEATURE_BACKLIGHT] = 200, [FEATURE_STRIP] = 1470,
         [FEATURE_LAMPS] = 217,
     }},
    {"rp2040",
     7272,
     2880,
     1700,
     {
         [FEATURE_CONSUMER] = 148,    [FEATURE_SYSTEM] = 119,    [FEATURE_MOUSE] = 276,
         [FEATURE_POINTER] = 547,     [FEATURE_BOARD] = 68,      [FEATURE_CHORDS] = 64,
         [FEATURE_HOLDS] = 1092,      [FEATURE_HANDS] = 97,      [FEATURE_AGAIN] = 193,
         [FEATURE_LONG_PRESS] = 138,  [FEATURE_DANCES] = 1003,   [FEATURE_STICKY] = 823,
         [FEATURE_BLOCKS] = 70,       [FEATURE_WHENS] = 237,     [FEATURE_COMBOS] = 1134,
         [FEATURE_LEADER] = 485,      [FEATURE_MACROS] = 862,    [FEATURE_TYPE] = 437,
         [FEATURE_KNOBS] = 446,       [FEATURE_LIVE] = 6560,     [FEATURE_LIGHTS] = 473,
         [FEATURE_LIGHT_CELLS] = 905, [FEATURE_BACKLIGHT] = 163, [FEATURE_STRIP] = 1808,
         [FEATURE_LAMPS] = 366,
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
    return bytes + (keeps_something(program, features) ? sizes->journal : 0);
}
