/* electric.h - pins, switches and diodes, as current sees them.
 *
 * 1. A net has pins, and switches between two pins; a switch may have a diode in series.
 * 2. Each pin is driven one way. What a pin reads follows from every drive and every
 *    closed contact: ghosts, wrong diodes and shorts come out by themselves.
 * 3. Levels take time: each wire has a capacitance, which a driver or a pull of the chip has to
 *    charge. Whoever reads earlier reads what was there before.
 * 4. A pin that nothing drives or pulls reads noise.
 * 5. Times are nanoseconds and never go back.
 */
#ifndef UVREK_ELECTRIC_H
#define UVREK_ELECTRIC_H

#include "uvrek/chips.h"

#include <stdbool.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* Picofarads of a wire: from a short trace to a long one laid beside others. */
#define UVK_WIRE_LEAST   20u
#define UVK_WIRE_DEFAULT 100u
#define UVK_WIRE_MOST    400u

enum uvk_drive { UVK_FLOATING, UVK_PULL_UP, UVK_PULL_DOWN, UVK_DRIVE_LOW, UVK_DRIVE_HIGH };

/* Which way a switch conducts: current goes from pin A to pin B, from B to A, or both. */
enum uvk_diode { UVK_NO_DIODE, UVK_A_TO_B, UVK_B_TO_A };

struct uvk_electric;

/* A net of PINS pins of a chip with LEVELS, each on a wire of so many PICOFARADS. SEED is for
 * the noise. NULL only when there is no memory. */
struct uvk_electric *uvk_electric_new(unsigned pins, const struct uvk_levels *levels,
                                      unsigned picofarads, uint32_t seed);
void uvk_electric_free(struct uvk_electric *net);

/* Add a switch between pins A and B, open. Returns its index, counted from 0. */
unsigned uvk_electric_add(struct uvk_electric *net, unsigned a, unsigned b,
                          enum uvk_diode diode);

/* Open or close a switch. */
void uvk_electric_contact(struct uvk_electric *net, unsigned index, bool closed, uint64_t now);

/* Set how a pin is driven. */
void uvk_electric_drive(struct uvk_electric *net, unsigned pin, enum uvk_drive drive,
                        uint64_t now);

/* How it is driven now. */
enum uvk_drive uvk_electric_drives(const struct uvk_electric *net, unsigned pin);

/* What a pin reads at NOW: true for high. */
bool uvk_electric_read(struct uvk_electric *net, unsigned pin, uint64_t now);

/* How many times a pin was driven both ways at once: a short. */
unsigned uvk_electric_shorts(const struct uvk_electric *net);

#ifdef __cplusplus
}
#endif

#endif
