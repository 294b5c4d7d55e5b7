/* write.c - a program as JSON, and the schema. */
#include "write.h"

#include "shape.h"

#include <stdlib.h>

#define DIGITS 15 /* of numbers that are not whole */

/* JSON (owned) as text with a line's end; freed with g_free. */
static char *json_text(json_t *json)
{
    char *dumped = json_dumps(json, JSON_INDENT(2) | JSON_REAL_PRECISION(DIGITS));
    char *text = g_strconcat(dumped, "\n", NULL);

    free(dumped);
    json_decref(json);
    return text;
}

char *uvk_exchange_write(const struct uvk_program *program, GError **error)
{
    json_t *keys = keys_to_json(program, error);
    json_t *json;

    if (keys == NULL) {
        return NULL;
    }
    json = json_pack("{siso}", "uvrek-exchange", UVK_EXCHANGE_VERSION, "board",
                     board_to_json(program, keys));
    if (program->keymap != NULL) {
        json_object_set_new(json, "keymap", keymap_to_json(program));
    }
    return json_text(json);
}

char *uvk_exchange_schema(void)
{
    return json_text(shape_schema(&exchange_form));
}
