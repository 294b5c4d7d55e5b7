/* features.h - what an engine can be built without: the one list of it. */
#ifndef UVREK_FIRMWARE_FEATURES_H
#define UVREK_FIRMWARE_FEATURES_H

#include "uvrek/image.h"
#include "uvrek/text.h"

/* In the order of UVK_FEATURE_BITS (door.h): a keyboard tells what it was built with. */
enum feature {
    FEATURE_CONSUMER,
    FEATURE_SYSTEM,
    FEATURE_MOUSE,
    FEATURE_POINTER,
    FEATURE_BOARD,
    FEATURE_CHORDS,
    FEATURE_HOLDS,
    FEATURE_HANDS,
    FEATURE_AGAIN,
    FEATURE_LONG_PRESS,
    FEATURE_DANCES,
    FEATURE_STICKY,
    FEATURE_BLOCKS,
    FEATURE_WHENS,
    FEATURE_COMBOS,
    FEATURE_LEADER,
    FEATURE_MACROS,
    FEATURE_TYPE,
    FEATURE_PRESS_AFTER,
    FEATURE_KNOBS,
    FEATURE_PROBE, /* no keymap asks for it */
    FEATURE_LIVE,
    FEATURE_LIGHTS,
    FEATURE_LIGHT_CELLS,
    FEATURE_BACKLIGHT,
    FEATURE_STRIP,
    FEATURE_LAMPS,
    FEATURES
};

struct feature_text {
    const char *macro; /* of the configuration; NULL: the number of knobs says it */
    const char *name;  /* for people */
    uint32_t brings;   /* bits of the features that go when it goes */
};

#define FEATURE_BIT(feature) ((uint32_t)1 << (feature))

extern const struct feature_text feature_texts[FEATURES];

/* The bits of the features that an image needs. */
uint32_t features_of(const struct uvk_image *image);

/* Bytes of the image that are there for features alone. */
unsigned features_bytes(const struct uvk_image *image, uint32_t features);

/* Does the keyboard of PROGRAM, with FEATURES, keep anything that outlives the power? */
bool keeps_something(const struct uvk_program *program, uint32_t features);

/* The configuration of an engine with FEATURES. Freed with g_free. */
char *config_text(const struct uvk_program *program, const struct uvk_image *image,
                  uint32_t features);

#endif
