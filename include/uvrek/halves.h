/* halves.h - what a keyboard in two halves says of them to the desk.
 *
 * The half that is plugged into the computer is asked over USB, by a request of our own on the
 * control pipe (docs/link.md); whoever may open the device may ask.
 */
#ifndef UVREK_HALVES_H
#define UVREK_HALVES_H

#include "uvrek/cable.h"
#include "uvrek/pair.h"

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_halves_told {
    bool leads, second; /* of the half that was asked */
    enum uvk_half_trouble trouble;
    /* since its start; each number stops at 65,535 */
    unsigned good, broken, stray;
    unsigned erased; /* banks of the memory of the half that was asked, over its life */
};

/* The request, and its answer. False: the answer makes no sense. */
extern const struct uvk_request uvk_halves_request;
bool uvk_halves_read(const uint8_t *answer, size_t size, struct uvk_halves_told *told);

/* Ask the keyboard on CABLE. False: *ERROR. */
bool uvk_halves_ask(struct uvk_cable *cable, struct uvk_halves_told *told, GError **error);

/* What is wrong, and what to do, in a sentence; NULL: nothing. */
const char *uvk_half_trouble_text(enum uvk_half_trouble trouble);

#ifdef __cplusplus
}
#endif

#endif
