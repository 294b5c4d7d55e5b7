/* lights.h - what lights up: a backlight, a strip, lamps with a pin of their own.
 *
 * 1. The cells `light:` change a level of brightness, an effect, on or off. That state is kept
 *    in the journal (journal.h), written when it has rested for a while.
 * 2. In a pass one lamp of the strip is worked out. When all have been, they are sent, if
 *    anything differs from what the strip shows. So a strip of 64 lamps changes 15 times a
 *    second, and costs each pass the same.
 * 3. What the lamps take together is worked out before it is sent, and kept within the limit:
 *    20 mA for each colour of a lamp in full, and 1 mA for a lamp that is dark.
 * 4. All is dark while the host sleeps.
 * 5. Of two linked halves each lights its own lamps. The main one tells the other one level,
 *    effect, phase, layer and the latest press (docs/link.md): they show one picture.
 * 6. A layer's colour stands in for whatever the effect would show; `breathe`, `ripple` and
 *    `keys` are shown in that colour.
 */
#ifndef UVREK_LIGHTS_H
#define UVREK_LIGHTS_H

#include "uvrek/image.h"

#if UVK_USE_LIGHTS

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_engine; /* engine.h */
struct uvk_port;

/* What is kept of the lights: the level with UVK_LIGHTS_OFF, and the effect. */
#define UVK_LIGHTS_KEPT 2u
#define UVK_LIGHTS_OFF  0x80u

/* What one half tells the other of them, beside layer and lamps: level, effect and the count of
 * presses, phase, the lamp below the latest one. */
#define UVK_LIGHTS_TOLD 4u
enum { UVK_TOLD_LEVEL, UVK_TOLD_EFFECT, UVK_TOLD_PHASE, UVK_TOLD_ORIGIN };
#define UVK_TOLD_EFFECTS 7u /* of its byte; a count of presses above it */
#define UVK_TOLD_PRESS   8u

/* What the lights follow: the engine's own state, or what the main half has told. */
struct uvk_light_view {
    uint8_t level;  /* 0: dark */
    uint8_t effect; /* enum uvk_effect */
    uint8_t layer;  /* on top */
    uint8_t lit;    /* bits: the host's locks, as uvk_port_lamps; then the lamps of layers, in
                       their order */
};
#define UVK_LIT_LAYERS 3u /* the first bit of a layer */

/* The state that is to be kept into OUT. False: it is the one that was kept last. And: it is on
 * its way. */
bool uvk_lights_to_keep(const struct uvk_engine *engine, uint8_t out[UVK_LIGHTS_KEPT]);
void uvk_lights_are_kept(struct uvk_engine *engine, const uint8_t kept[UVK_LIGHTS_KEPT]);

/* As it was kept: SIZE bytes. What means nothing on this keyboard changes nothing. */
void uvk_lights_restore(struct uvk_engine *engine, const uint8_t *kept, uint8_t size);

/* A millisecond has passed on a half that is not the main one. */
void uvk_lights_follow(struct uvk_engine *engine, struct uvk_port *port);

/* How bright LEVEL is of LEVELS, as the eye sees it: 0 is dark, 255 in full. */
uint8_t uvk_light_brightness(uint8_t level, uint8_t levels);

/* PART of WHOLE, which is more, in 256 parts. */
uint8_t uvk_light_parts(uint16_t part, uint16_t whole);

/* A colour of which SCALE (0 dark, 255 in full) is shown. */
static inline uint8_t uvk_light_scaled(uint8_t colour, uint8_t scale)
{
    return (uint8_t)((uint16_t)(colour * (uint16_t)(scale + 1u)) >> 8);
}

#ifdef UVK_STRIP_BYTES
/* Red, green and blue at COLOUR, scaled, as a lamp of this keyboard takes them: in its order,
 * and what all three have in common as white, if it has white. */
static inline void uvk_strip_data(const uint8_t *colour, uint8_t scale,
                                  uint8_t data[UVK_STRIP_BYTES])
{
    uint8_t red = uvk_light_scaled(colour[0], scale);
    uint8_t green = uvk_light_scaled(colour[1], scale);
    uint8_t blue = uvk_light_scaled(colour[2], scale);
#if UVK_STRIP_BYTES > 3
    uint8_t white = red < green ? red : green;

    white = blue < white ? blue : white;
    red = (uint8_t)(red - white);
    green = (uint8_t)(green - white);
    blue = (uint8_t)(blue - white);
    data[3] = white;
#endif
    data[UVK_STRIP_RED] = red;
    data[UVK_STRIP_GREEN] = green;
    data[UVK_STRIP_BLUE] = blue;
}
#endif

/* ---- what the desk may light, to look at a lamp --------------------------------------- */

enum uvk_light_shown {
    UVK_SHOWN_ALL,       /* as ever */
    UVK_SHOWN_BACKLIGHT, /* the backlight alone, in full */
    UVK_SHOWN_STRIP,     /* one lamp of the strip alone, or all of it */
    UVK_SHOWN_LAMP,      /* one lamp with a pin of its own */
    UVK_SHOWN_KINDS
};
#define UVK_SHOWN_EACH 0xFFu /* all lamps of that kind */

/* Light that one LAMP in COLOUR, and nothing else, for SECONDS (0: as ever from now on). */
void uvk_lights_show(struct uvk_engine *engine, enum uvk_light_shown kind, uint8_t lamp,
                     struct uvk_colour colour, uint8_t seconds);

#ifdef __cplusplus
}
#endif

#endif

#endif
