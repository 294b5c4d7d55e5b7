/* link.h - how the halves of a keyboard speak with one another; docs/link.md is the protocol.
 *
 * 1. The main half asks, each millisecond; the other half answers, and says nothing unasked. So
 *    one wire is as good as two, and nobody ever waits for a line that is in use.
 * 2. An answer is state, not change: which contacts are closed, how far the knobs stand. A
 * frame that is lost costs a millisecond and never a key.
 * 3. What comes over the wire is believed in nothing: a frame counts when its CRC is right, its
 *    length is that of its kind, and it answers the latest question.
 * 4. This part knows bytes and frames. What they mean for a keyboard is in half.h.
 */
#ifndef UVREK_LINK_H
#define UVREK_LINK_H

#include "uvrek/config.h"
#include "uvrek/pair.h"

#include <stdbool.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* A frame: mark, number of bytes in it, those bytes, CRC-16 with the high byte first
 * (polynomial 1021, start FFFF, not reflected, no final xor: ITU-T V.41 as HDLC has it, not
 * inverted). */
#define UVK_FRAME_BYTES_MAX ((uint8_t)UVK_LINK_BYTES) /* a longer one is none */
#define UVK_FRAME_MAX       (UVK_FRAME_BYTES_MAX + UVK_FRAME_AROUND)

/* The marks have no run of three equal bits, so that a wrong speed shows as a broken mark. */
enum uvk_frame_kind {
    UVK_FRAME_ASK = 0x9A,  /* of the main half */
    UVK_FRAME_STATE = 0xA5 /* of the other one */
};

/* What the line is like, since the start; each number stops at 65,535. */
struct uvk_line_health {
    uint16_t good;   /* frames */
    uint16_t broken; /* frames that began, and were none */
    uint16_t stray;  /* bytes outside frames */
};

/* The receiver of one end. All zeros is its start. */
struct uvk_receiver {
    uint8_t bytes[UVK_FRAME_MAX];
    uint8_t count;  /* that have come, from a mark on */
    uint8_t length; /* of the frame that is whole at the start of BYTES; 0: none is */
    struct uvk_line_health health;
};

/* Put a frame around SIZE bytes of CONTENT into OUT; returns its length. */
uint8_t uvk_frame_put(uint8_t out[UVK_FRAME_MAX], enum uvk_frame_kind kind,
                      const uint8_t *content, uint8_t size);

/* A byte has come. True: a frame is whole; it stands in the receiver until the next byte. */
bool uvk_receiver_take(struct uvk_receiver *receiver, uint8_t byte);

/* That frame. */
static inline enum uvk_frame_kind uvk_receiver_kind(const struct uvk_receiver *receiver)
{
    return (enum uvk_frame_kind)receiver->bytes[0];
}
static inline uint8_t *uvk_receiver_content(struct uvk_receiver *receiver, uint8_t *size)
{
    *size = receiver->bytes[1];
    return receiver->bytes + 2;
}

/* A part of a frame has come, and not all of it. */
bool uvk_receiver_is_within(const struct uvk_receiver *receiver);

/* Nothing more of what has begun will come: the line was quiet. */
void uvk_receiver_rest(struct uvk_receiver *receiver);

#ifdef __cplusplus
}
#endif

#endif
