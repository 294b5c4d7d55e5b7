/* link.c - bytes on the wire between two halves become frames, and frames bytes. */
#include "uvrek/link.h"
#include "crc16.h"
#include "uvrek/config.h"

#include <string.h>

#if UVK_USE_LINK

#define AT_LENGTH  1u
#define AT_CONTENT 2u
#define CRC_BYTES  2u

static uint16_t crc_of(const uint8_t *bytes, uint8_t count)
{
    uint16_t crc = CRC16_START;

    for (; count > 0; count--) {
        crc = uvk_crc16_byte(crc, *bytes++);
    }
    return crc;
}

uint8_t uvk_frame_put(uint8_t out[UVK_FRAME_MAX], enum uvk_frame_kind kind,
                      const uint8_t *content, uint8_t size)
{
    uint16_t crc;

    out[0] = (uint8_t)kind;
    out[AT_LENGTH] = size;
    memcpy(out + AT_CONTENT, content, size);
    crc = crc_of(out, (uint8_t)(AT_CONTENT + size));
    out[AT_CONTENT + size] = (uint8_t)(crc >> 8);
    out[AT_CONTENT + size + 1u] = (uint8_t)crc;
    return (uint8_t)(size + UVK_FRAME_AROUND);
}

static UVK_ONE_COPY void count_up(uint16_t *number)
{
    *number = (uint16_t)(*number + (*number != UINT16_MAX));
}

static bool is_mark(uint8_t byte)
{
    return byte == UVK_FRAME_ASK || byte == UVK_FRAME_STATE;
}

static void drop(struct uvk_receiver *receiver, uint8_t count)
{
    receiver->count = (uint8_t)(receiver->count - count);
    memmove(receiver->bytes, receiver->bytes + count, receiver->count);
}

/* Up to the next byte that can begin a frame. */
static void find_mark(struct uvk_receiver *receiver)
{
    uint8_t at = 0;

    while (at < receiver->count && !is_mark(receiver->bytes[at])) {
        count_up(&receiver->health.stray);
        at++;
    }
    if (at > 0) {
        drop(receiver, at);
    }
}

static bool is_of_question(uint8_t length)
{
#if UVK_USE_LIGHTS
    return length == UVK_ASK_BYTES || length == UVK_ASK_BYTES + UVK_ASK_SHOWN;
#else
    return length == UVK_ASK_BYTES;
#endif
}

/* What begins at the start of the bytes: not whole yet, whole, or no frame at all. */
enum look { LOOK_PART, LOOK_WHOLE, LOOK_NONE };

static enum look look(const struct uvk_receiver *receiver)
{
    uint8_t length = receiver->bytes[AT_LENGTH];

    if (receiver->count <= AT_LENGTH) {
        return LOOK_PART;
    }
    /* any other length of a question must not swallow the next question */
    if (length > UVK_FRAME_BYTES_MAX ||
        (receiver->bytes[0] == UVK_FRAME_ASK && !is_of_question(length))) {
        return LOOK_NONE;
    }
    if (receiver->count < length + UVK_FRAME_AROUND) {
        return LOOK_PART;
    }
    /* with its own CRC behind it, what is left is nothing */
    return crc_of(receiver->bytes, (uint8_t)(length + UVK_FRAME_AROUND)) == 0 ? LOOK_WHOLE
                                                                              : LOOK_NONE;
}

/* A frame that was none may hide the beginning of one. */
static bool settle(struct uvk_receiver *receiver)
{
    enum look found = LOOK_NONE;

    while (found == LOOK_NONE) {
        find_mark(receiver);
        if (receiver->count == 0) {
            return false;
        }
        found = look(receiver);
        if (found == LOOK_NONE) {
            count_up(&receiver->health.broken);
            drop(receiver, 1);
        }
    }
    if (found == LOOK_WHOLE) {
        count_up(&receiver->health.good);
        receiver->length = (uint8_t)(receiver->bytes[AT_LENGTH] + UVK_FRAME_AROUND);
    }
    return found == LOOK_WHOLE;
}

bool uvk_receiver_take(struct uvk_receiver *receiver, uint8_t byte)
{
    if (receiver->length > 0) { /* the frame has been looked at */
        drop(receiver, receiver->length);
        receiver->length = 0;
    }
    receiver->bytes[receiver->count++] = byte;
    return settle(receiver);
}

bool uvk_receiver_is_within(const struct uvk_receiver *receiver)
{
    return receiver->count > receiver->length;
}

void uvk_receiver_rest(struct uvk_receiver *receiver)
{
    if (uvk_receiver_is_within(receiver)) {
        count_up(&receiver->health.broken);
    }
    receiver->count = 0;
    receiver->length = 0;
}

#endif
