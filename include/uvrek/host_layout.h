/* host_layout.h - what a host's keyboard layout makes of keys, and which keys make a text.
 *
 * 1. The layouts are the host's own. On Linux they come through libxkbcommon, dead keys
 *    included (as the en_US.UTF-8 compose table has them: accent, then letter). For Windows and
 *    a Mac there are tables of what is certain; what is not known is not typed, and shows as
 *    U+FFFD where somebody presses it. docs/characters.md lists what is known where.
 *    Keys that only some keyboards of a layout have are not used.
 * 2. Keys are usages of HID page 0x07, modifiers are the eight bits of a report.
 * 3. A typist types on a layout and remembers what is down.
 * 4. Characters that a layout does not have can be typed by number where the system has an
 *    input method for that and its user has switched it on: on Linux control+shift+u, the
 *    number in hexadecimal, space; on Windows alt held, the keypad's plus and the number; on
 *    a Mac alt (option) held and four digits for each UTF-16 unit.
 */
#ifndef UVREK_HOST_LAYOUT_H
#define UVREK_HOST_LAYOUT_H

#include <glib.h>
#include <stdbool.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

enum uvk_system { UVK_LINUX, UVK_WINDOWS, UVK_MAC };

/* Names of systems and layouts, NULL-terminated, as the language says them. */
extern const char *const uvk_system_names[];
extern const char *const uvk_layout_names[];

struct uvk_layout;

/* Load the layout NAME of SYSTEM. NULL if there is no such layout, or its data is not
 * installed. */
struct uvk_layout *uvk_layout_load(enum uvk_system system, const char *name);
void uvk_layout_free(struct uvk_layout *layout);

/* The one key and its modifiers that type CHARACTER; false if none do. */
bool uvk_layout_find(const struct uvk_layout *layout, gunichar character, uint8_t *mods,
                     uint8_t *usage);

/* A key that is tapped with modifiers. */
struct uvk_stroke {
    uint8_t mods, usage;
};

/* The one stroke that types CHARACTER, or the two with a dead key; how many, 0 if none do. */
#define UVK_SPELL_MAX 2
unsigned uvk_layout_spell(struct uvk_layout *layout, gunichar character,
                          struct uvk_stroke strokes[UVK_SPELL_MAX]);

/* How SYSTEM takes a character by number: HOLD is held for all strokes (0: nothing). How many
 * strokes; 0 if the layout has no hexadecimal digits. */
#define UVK_NUMBER_MAX 10
unsigned uvk_layout_number(struct uvk_layout *layout, gunichar character, uint8_t *hold,
                           struct uvk_stroke strokes[UVK_NUMBER_MAX]);

struct uvk_typist;

/* BY_NUMBER: the system's input method for that is switched on. LAYOUT is borrowed. */
struct uvk_typist *uvk_typist_new(struct uvk_layout *layout, bool by_number);
void uvk_typist_free(struct uvk_typist *typist);

/* The host's locks: num is on at the start, the others off. Keys switch them as on that
 * system; a Mac has no num lock, its keypad always gives digits. */
enum uvk_lock { UVK_NUM_LOCK, UVK_CAPS_LOCK, UVK_SCROLL_LOCK, UVK_LOCKS };
extern const char *const uvk_lock_names[]; /* NULL-terminated, as the language says them */
void uvk_typist_lock(struct uvk_typist *typist, enum uvk_lock lock, bool on);
bool uvk_typist_locked(const struct uvk_typist *typist, enum uvk_lock lock);

/* A key (0x04..0xE7) goes down or comes up; what it types is added to TEXT as UTF-8. */
void uvk_typist_key(struct uvk_typist *typist, uint8_t usage, bool down, GString *text);

#ifdef __cplusplus
}
#endif

#endif
