/* host_keys.h - what Windows and a Mac make of keys.
 *
 * The layouts of these systems are not those of libxkbcommon, though they bear the same names:
 * what AltGr or option gives differs, and so does which keys are dead. So there is a table of
 * our own for each system and layout. It holds what is certain; what it does not hold is not
 * known, and never guessed. */
#ifndef UVREK_TEXT_HOST_KEYS_H
#define UVREK_TEXT_HOST_KEYS_H

#include "uvrek/host_layout.h"

struct host_keys;

/* NULL: libxkbcommon says it all, as on Linux. */
const struct host_keys *host_keys_of(enum uvk_system system, const char *layout);

/* Levels: nothing held, shift, AltGr (on a Mac option), both. */
#define HOST_LEVELS 4u

/* What USAGE gives on LEVEL: a character, or of a dead key the combining one; 0: not known. */
gunichar host_keys_at(const struct host_keys *keys, uint8_t usage, unsigned level);

/* DEAD, a combining character, then BASE; 0: not known. */
gunichar host_keys_compose(const struct host_keys *keys, gunichar dead, gunichar base);

/* Does AltGr type at all? If not, it is an alt like the left one. */
bool host_keys_have_third(const struct host_keys *keys);

#endif
