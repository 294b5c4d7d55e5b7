/* pair.h - two halves of a keyboard: what the engine and the desk both have to know of them. */
#ifndef UVREK_PAIR_H
#define UVREK_PAIR_H

#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* Bytes around what a frame on the link carries, and of a question: docs/link.md. */
#define UVK_FRAME_AROUND 4u
#define UVK_ASK_BYTES    2u
#define UVK_ASK_SHOWN    5u /* more, while the computer has one light lit */

/* Milliseconds until the answer to a question of ASK bytes must have come, at SPEED bits a
 * second, where the longer answer has ANSWER bytes: what the wire needs, and something for the
 * scan. */
static inline uint8_t uvk_link_answer_ms(uint32_t speed, uint8_t ask, uint8_t answer)
{
    uint32_t bits = 10u * (UVK_FRAME_AROUND + ask + UVK_FRAME_AROUND + answer);

    return (uint8_t)(1u + (bits * 1000u + speed / 2u) / speed);
}

/* Milliseconds: an answer that has not come by then does not come. With the usual debounce
 * time, keys of a half that is gone are up within 30 ms. */
#define UVK_HALF_GONE_MS 24u

/* What is wrong between the halves, as far as one of them knows. */
enum uvk_half_trouble {
    UVK_HALF_WELL,
    UVK_HALF_ALONE, /* nothing comes: cable out, or crossed, or the other half is off */
    UVK_HALF_UNINTELLIGIBLE, /* bytes come, and no frames: another speed, or a bad wire */
    UVK_HALF_OTHER_IMAGE,    /* the other half runs another firmware */
    UVK_HALF_SAME_HALF       /* both halves have been told that they are the same one */
};

/* Which half a firmware is for, a character of its note (formats.h); of what a half keeps of
 * itself, the latter two. */
#define UVK_HALF_ANY    '-'
#define UVK_HALF_FIRST  '1'
#define UVK_HALF_SECOND '2'

/* Bytes of what a half tells over USB of the two. */
#define UVK_HALF_TOLD 10u

#ifdef __cplusplus
}
#endif

#endif
