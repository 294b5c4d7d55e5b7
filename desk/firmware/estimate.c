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
     7945,
     {
         [FEATURE_CONSUMER] = 203,   [FEATURE_SYSTEM] = 155,  [FEATURE_MOUSE] = 291,
         [FEATURE_POINTER] = 750,    [FEATURE_BOARD] = 16,    [FEATURE_CHORDS] = 105,
         [FEATURE_HOLDS] = 1283,     [FEATURE_HANDS] = 204,   [FEATURE_AGAIN] = 208,
         [FEATURE_LONG_PRESS] = 139, [FEATURE_DANCES] = 1702, [FEATURE_STICKY] = 757,
         [FEATURE_BLOCKS] = 95,      [FEATURE_WHENS] = 274,   [FEATURE_COMBOS] = 1468,
         [FEATURE_LEADER] = 684,     [FEATURE_MACROS] = 992,  [FEATURE_TYPE] = 547,
         [FEATURE_KNOBS] = 500,
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
