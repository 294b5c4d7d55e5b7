/* names.h - the names that the language knows: keys, settings, light acts. Desk side. */
#ifndef UVREK_NAMES_H
#define UVREK_NAMES_H

#include "uvrek/image.h"

#ifdef __cplusplus
extern "C" {
#endif

/* A key that the language knows by name. */
struct uvk_key_name {
    const char *name;
    uint8_t mods;
    uint16_t page, usage;
    int turn;
};
const struct uvk_key_name *uvk_key_names(size_t *count);
const struct uvk_key_name *uvk_key_named(const char *name); /* NULL: none */

/* The one of COUNT candidates that WORD was probably meant to be, NULL if none is near.
 * NAME_OF gives the candidate of an index. */
const char *uvk_nearest(const char *word, size_t count,
                        const char *(*name_of)(size_t index, const void *data),
                        const void *data);

struct uvk_setting_name {
    const char *name, *what, *unit; /* unit NULL: a time, in microseconds */
    double least, most, usual;      /* usual: when nobody sets it */
};
extern const struct uvk_setting_name uvk_setting_names[UVK_SETTINGS];
const struct uvk_setting_name *uvk_setting_named(const char *name); /* NULL: none */

/* What stands behind `light:`, NULL at the end. */
extern const char *const uvk_light_acts[];
/* Of enum uvk_effect, and the locks of enum uvk_lamp; NULL at the end. */
extern const char *const uvk_effect_names[];
extern const char *const uvk_lamp_locks[];

#ifdef __cplusplus
}
#endif

#endif
