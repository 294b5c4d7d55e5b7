/* call.h - how a probe without a host says over a cable which pin is which.
 *
 * 1. Every pin is pulled low for a while, again and again: UVK_CALL_BITS slots, each a bit of
 *    the pin's number in the chip's list (chips.h), the lowest first, then a pause. A slot
 * begins with the pin low, for UVK_CALL_SHORT_MS if the bit is 0, UVK_CALL_ONE times as long if
 * it is 1.
 * 2. All pins speak at the same time, and pull low only: nothing can be harmed, whatever is
 *    joined to what. Pins that are joined say the larger of their bits.
 * 3. A probe that has a host sees those pulses to within UVK_CALL_LATE_MS, as a pin that is
 *    joined to ground (door.h, rule 6).
 */
#ifndef UVREK_CALL_H
#define UVREK_CALL_H

#define UVK_CALL_BITS     5u
#define UVK_CALL_SLOTS    8u /* with the pause */
#define UVK_CALL_SLOT_MS  64u
#define UVK_CALL_SHORT_MS 16u
#define UVK_CALL_ONE      3u
#define UVK_CALL_LATE_MS  12u /* a look each 4 ms, debouncing both ways */

#endif
