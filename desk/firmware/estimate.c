/* estimate.c - about how large a firmware will be, without building it.
 *
 * The numbers are fitted to some seventy builds by tools/estimate, which prints them anew; a
 * test holds them to 5 % of what is built. */
#include "features.h"

#include "uvrek/firmware.h"

#include <string.h>

static const struct known {
    const char *port;
    uint16_t base; /* bytes of code that every keymap needs */
    uint16_t feature[FEATURES];
} known[] = {
    {"atmega32u4",
     5986,
     {
         [FEATURE_CONSUMER] = 158,   [FEATURE_SYSTEM] = 136,  [FEATURE_MOUSE] = 263,
         [FEATURE_POINTER] = 661,    [FEATURE_BOARD] = 30,    [FEATURE_CHORDS] = 93,
         [FEATURE_HOLDS] = 1436,     [FEATURE_HANDS] = 132,   [FEATURE_AGAIN] = 175,
         [FEATURE_LONG_PRESS] = 124, [FEATURE_DANCES] = 1140, [FEATURE_STICKY] = 658,
         [FEATURE_BLOCKS] = 80,      [FEATURE_WHENS] = 216,   [FEATURE_COMBOS] = 1206,
         [FEATURE_LEADER] = 548,     [FEATURE_MACROS] = 1046, [FEATURE_TYPE] = 447,
         [FEATURE_KNOBS] = 416,
     }},
};

static const struct known *known_of(const struct uvk_chip *chip)
{
    for (size_t i = 0; chip->port != NULL && i < G_N_ELEMENTS(known); i++) {
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

    if (sizes == NULL || !uvk_can_build(program->board, NULL) ||
        uvk_image_open(&opened, image, size) != UVK_OK) {
        return 0;
    }
    features = features_of(&opened);
    bytes = sizes->base + (size_t)size;
    for (unsigned i = 0; i < FEATURES; i++) {
        bytes += (features & FEATURE_BIT(i)) != 0 ? sizes->feature[i] : 0;
    }
    return bytes;
}
