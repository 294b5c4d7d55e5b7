/* probe.h - the firmware that learns how a board is wired. Desk side.
 *
 * 1. A probe selects one pin after another: that one is low, all others are inputs that are
 * pulled up. So nothing on a board can be harmed, whatever is joined to what, and a switch is
 * seen on any two pins, and on any pin that it joins to ground.
 * 2. It is no keyboard: it types nothing, keeps nothing, and tells what it sees to everybody
 *    (door.h, rule 6). What was kept in the chip's memory stays there.
 * 3. Without a host it calls over the cable to another half (call.h): all pins pull low then,
 * and still nothing else.
 * 4. It is built and flashed like any other firmware of the board, and says so in its note.
 */
#ifndef UVREK_PROBE_H
#define UVREK_PROBE_H

#include "uvrek/firmware.h"

#ifdef __cplusplus
extern "C" {
#endif

/* The keymap that its note names; a keymap of the language cannot be called so. */
#define UVK_PROBE_KEYMAP "(probe)"

/* Build the one for the chip of BOARD, with its name and its USB ids. NULL: *ERROR. */
struct uvk_firmware *uvk_build_probe(const struct uvk_board *board,
                                     const struct uvk_build_options *options, GError **error);

#ifdef __cplusplus
}
#endif

#endif
