/* write.h - the parts of a program as JSON. */
#ifndef UVREK_EXCHANGE_WRITE_H
#define UVREK_EXCHANGE_WRITE_H

#include "uvrek/text.h"

#include <jansson.h>

/* keys_out.c: the keys of all layout choices. NULL: see ERROR. */
json_t *keys_to_json(const struct uvk_program *program, GError **error);

/* board_out.c: the board with KEYS (owned). */
json_t *board_to_json(const struct uvk_program *program, json_t *keys);

/* keys_out.c: nothing for either hand. */
void hand_to_json(json_t *json, enum uvk_hand hand);

/* keymap_out.c */
json_t *keymap_to_json(const struct uvk_program *program);

/* Settings that are set, but those that OTHERS (may be NULL) have from the same place. */
json_t *settings_to_json(const struct uvk_setting_text *settings,
                         const struct uvk_setting_text *others);

#endif
