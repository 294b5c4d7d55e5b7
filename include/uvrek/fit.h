/* fit.h - a keymap in the places of another one: what a running keyboard is changed by. Desk
 * side.
 *
 * 1. The firmware was built with one image; the text says another one by now. What both have
 *    stays where it is in the built-in one; what is new takes places that nothing needs any
 *    more, or goes behind the end. So a small change of the text is a small change of the
 * image.
 * 2. Rows have no names: two actions are the same when they do the same.
 */
#ifndef UVREK_FIT_H
#define UVREK_FIT_H

#include "uvrek/changes.h"

#ifdef __cplusplus
extern "C" {
#endif

enum uvk_fit {
    UVK_FITS,
    UVK_FIT_BOARD,    /* the keys, wires or knobs are others */
    UVK_FIT_LAYERS,   /* there are more layers, or fewer */
    UVK_FIT_ROOM,     /* `room` is another */
    UVK_FIT_TOO_LARGE /* the changes do not fit the room, or the image */
};

/* What makes BUILT (opened, unchanged) do what WANTED says, into *CHANGES. NEEDED: bytes of the
 * room that it takes, also when that is too much. */
enum uvk_fit uvk_image_fit(const struct uvk_image *built, const struct uvk_image *wanted,
                           struct uvk_changes *changes, unsigned *needed);

/* Do two actions, each of an image, do the same? And the images on the whole, on one board? */
bool uvk_same_action(const struct uvk_image *a, uvk_action one, const struct uvk_image *b,
                     uvk_action other);
bool uvk_same_feel(const struct uvk_feel *one, const struct uvk_feel *other);
bool uvk_same_image(const struct uvk_image *a, const struct uvk_image *b);

#ifdef __cplusplus
}
#endif

#endif
