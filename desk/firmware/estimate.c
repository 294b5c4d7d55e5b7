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
     6407,
     {
         [FEATURE_CONSUMER] = 155,   [FEATURE_SYSTEM] = 123,  [FEATURE_MOUSE] = 251,
         [FEATURE_POINTER] = 666,    [FEATURE_BOARD] = 29,    [FEATURE_CHORDS] = 80,
         [FEATURE_HOLDS] = 1370,     [FEATURE_HANDS] = 140,   [FEATURE_AGAIN] = 179,
         [FEATURE_LONG_PRESS] = 111, [FEATURE_DANCES] = 1137, [FEATURE_STICKY] = 628,
         [FEATURE_BLOCKS] = 98,      [FEATURE_WHENS] = 232,   [FEATURE_COMBOS] = 1205,
         [FEATURE_LEADER] = 541,     [FEATURE_MACROS] = 901,  [FEATURE_TYPE] = 461,
         [FEATURE_KNOBS] = 434,
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
