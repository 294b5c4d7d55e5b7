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
    uint16_t link; /* and what a controller in each half adds */
    uint16_t feature[FEATURES];
} known[] = {
    {"atmega32u4",
     5926,
     3250,
     {
         [FEATURE_CONSUMER] = 169,   [FEATURE_SYSTEM] = 120,  [FEATURE_MOUSE] = 256,
         [FEATURE_POINTER] = 650,    [FEATURE_BOARD] = 25,    [FEATURE_CHORDS] = 72,
         [FEATURE_HOLDS] = 1387,     [FEATURE_HANDS] = 120,   [FEATURE_AGAIN] = 191,
         [FEATURE_LONG_PRESS] = 114, [FEATURE_DANCES] = 1155, [FEATURE_STICKY] = 654,
         [FEATURE_BLOCKS] = 86,      [FEATURE_WHENS] = 191,   [FEATURE_COMBOS] = 1153,
         [FEATURE_LEADER] = 534,     [FEATURE_MACROS] = 943,  [FEATURE_TYPE] = 455,
         [FEATURE_KNOBS] = 515,      [FEATURE_LIVE] = 10450,
     }},
    {"rp2040",
     7340,
     3010,
     {
         [FEATURE_CONSUMER] = 148,   [FEATURE_SYSTEM] = 108,  [FEATURE_MOUSE] = 284,
         [FEATURE_POINTER] = 512,    [FEATURE_BOARD] = 27,    [FEATURE_CHORDS] = 66,
         [FEATURE_HOLDS] = 1100,     [FEATURE_HANDS] = 104,   [FEATURE_AGAIN] = 191,
         [FEATURE_LONG_PRESS] = 149, [FEATURE_DANCES] = 1001, [FEATURE_STICKY] = 846,
         [FEATURE_BLOCKS] = 79,      [FEATURE_WHENS] = 236,   [FEATURE_COMBOS] = 1135,
         [FEATURE_LEADER] = 523,     [FEATURE_MACROS] = 856,  [FEATURE_TYPE] = 436,
         [FEATURE_KNOBS] = 441,      [FEATURE_LIVE] = 8690,
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
    return bytes;
}
