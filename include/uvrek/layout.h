/* layout.h - what a host's keyboard layout makes of keys, and which keys make a text.
 *
 * 1. The layouts are the host's own, through libxkbcommon.
 * 2. Keys are usages of HID page 0x07, modifiers are the eight bits of a report.
 * 3. A layout does not change once it is loaded; a typist types on one and remembers what
 *    is down.
 */
#ifndef UVREK_LAYOUT_H
#define UVREK_LAYOUT_H

#include <glib.h>
#include <stdbool.h>
#include <stdint.h>

enum uvk_system { UVK_LINUX, UVK_WINDOWS, UVK_MAC };

/* Names of systems and layouts, NULL-terminated, as the language says them. */
extern const char *const uvk_system_names[];
extern const char *const uvk_layout_names[];

struct uvk_layout;

/* Load the layout NAME. NULL if there is no such layout, or its data is not installed. */
struct uvk_layout *uvk_layout_load(const char *name);
void uvk_layout_free(struct uvk_layout *layout);

/* The key and modifiers that type CHARACTER; false if none do. */
bool uvk_layout_find(const struct uvk_layout *layout, gunichar character, uint8_t *mods,
                     uint8_t *usage);

struct uvk_typist;
struct uvk_typist *uvk_typist_new(const struct uvk_layout *layout);
void uvk_typist_free(struct uvk_typist *typist);

/* A key (0x04..0xE7) goes down or comes up; what it types is added to TEXT as UTF-8. */
void uvk_typist_key(struct uvk_typist *typist, uint8_t usage, bool down, GString *text);

#endif
