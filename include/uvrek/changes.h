/* changes.h - an image that differs from the one that is built into the firmware.
 *
 * 1. A changed image is the built-in one with some words exchanged, and bytes added behind its
 *    end. It has a length, a directory, a sum of its own, and is an image like any other: what
 *    reads it (image.h) sees one row of bytes.
 * 2. The header stays as it is built in, except for length and sum: so keys, layers, lines and
 *    senses cannot be changed. A table may move to anywhere in the image.
 * 3. A word is two bytes at an even offset. Words come first, by their offsets; then the bytes
 *    that are added. Both share the room of the keymap: four bytes a word, one a byte.
 * 4. What was gathered is believed by nobody before uvk_check_go has looked at all of it. It
 *    does so a little at a time, because a keyboard has to scan meanwhile.
 * 5. The desk makes changes with uvk_image_fit (fit.h).
 */
#ifndef UVREK_CHANGES_H
#define UVREK_CHANGES_H

#include "uvrek/image.h"

#ifdef __cplusplus
extern "C" {
#endif

#define UVK_CHANGED_WORD 4u /* bytes of the room that a word takes */

struct uvk_changes {
    uint16_t built; /* bytes of the built-in image */
    /* from here on as it is kept, see uvk_changes_bytes */
    uint32_t serial; /* tells this keyboard from others */
    uint32_t base;   /* sum of the built-in image */
    uint32_t sum;    /* of the changed one, see rule 2 */
    uint16_t size;   /* bytes of the changed one */
    uint16_t words;  /* how many are exchanged */
    uint8_t room[UVK_LIVE_ROOM];
};

/* No changes of the built-in image BYTES, which has been opened; their sum is 0. The serial
 * number stays. */
void uvk_changes_clear(struct uvk_changes *changes, uvk_image_bytes bytes);

/* Bytes of the room that are used. */
uint16_t uvk_changes_used(const struct uvk_changes *changes);

/* Do they stay within the room, of LIMIT bytes? Before that is known, nothing may be read. */
bool uvk_changes_fit(const struct uvk_changes *changes, uint16_t limit);

/* All that is kept of them, and how many bytes that is. */
#define UVK_CHANGES_HEAD 16u /* bytes before the room: serial, base, sum, size, words */
uint8_t *uvk_changes_bytes(struct uvk_changes *changes);
uint16_t uvk_changes_size(const struct uvk_changes *changes);

/* ---- looking at them -------------------------------------------------------------------- */

/* Open IMAGE, which is BUILT as CHANGES have it: its tables are where they may be. CHANGES must
 * outlive it. On an error IMAGE is of no use. */
enum uvk_status uvk_image_open_changed(struct uvk_image *image, const struct uvk_image *built,
                                       const struct uvk_changes *changes);

/* A byte of an image, changed or not; AT < its length. */
uint8_t uvk_image_byte_at(const struct uvk_image *image, uint16_t at);

/* How far a check has come. The caller opens the image; the rest is its own. */
struct uvk_check {
    struct uvk_image image;
    uint8_t stage; /* what is looked at */
    uint16_t row;  /* the next one of that stage */
    uint16_t at;   /* where it stands */
    uint32_t crc;
#if UVK_USE_DIRECTORY
    uint8_t seen[(UVK_MAX_KEYS + 7) / 8]; /* keys that have a switch */
#endif
};
enum uvk_checked { UVK_CHECK_GOES_ON, UVK_CHECK_GOOD, UVK_CHECK_BAD_SUM, UVK_CHECK_BAD_VALUE };

/* Look at its image from the start. */
void uvk_check_begin(struct uvk_check *check);
/* Look at COUNT rows more (of a table; a byte of the sum is one, too). */
enum uvk_checked uvk_check_go(struct uvk_check *check, uint16_t count);

#ifdef __cplusplus
}
#endif

#endif
