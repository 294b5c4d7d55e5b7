/* cells.h - cells as JSON. */
#ifndef UVREK_EXCHANGE_CELLS_H
#define UVREK_EXCHANGE_CELLS_H

#include "uvrek/text.h"

#include <jansson.h>

json_t *cell_to_json(const struct uvk_program *program, const struct uvk_value *value);

/* A character in quotes, as the language writes it. */
json_t *character_to_json(const char *character);

/* A number, without a fraction where there is none. */
json_t *number_to_json(double value);

/* Microseconds as milliseconds. */
json_t *time_to_json(double microseconds);

#endif
