/* lowering.h - what is between the model and the image, for the files that lower it. */
#ifndef UVREK_TEXT_LOWERING_H
#define UVREK_TEXT_LOWERING_H

#include "uvrek/image_write.h"
#include "uvrek/scan.h"
#include "uvrek/text.h"

struct lowering {
    struct uvk_program *program;
    GArray *tables[UVK_TABLES]; /* of rows, see image_write.h */
    unsigned *macros;           /* row of the steps where each macro begins */
    unsigned once;              /* 1: a `once` is among the actions */
    unsigned knobs;             /* of the board, or none */
    unsigned keys;              /* of the image: switches, and two for each knob */
};

/* Rows of TABLE so far, and its row INDEX as a TYPE. */
#define ROWS(lowering, table)             ((lowering)->tables[table]->len)
#define ROW(lowering, table, type, index) g_array_index((lowering)->tables[table], type, index)

/* ROW is the next one of TABLE. */
static inline void add_row(struct lowering *lowering, enum uvk_table table, const void *row)
{
    g_array_append_vals(lowering->tables[table], row, 1);
}

static inline void add_byte(struct lowering *lowering, enum uvk_table table, unsigned value)
{
    uint8_t byte = (uint8_t)value;

    add_row(lowering, table, &byte);
}

/* ---- lower_values.c ---- */

/* The action word of VALUE; its rows of other tables are added as they are needed. */
uvk_action lower_value(struct lowering *lowering, const struct uvk_value *value);

/* Microseconds of the model in those of the image. */
uint16_t milliseconds(double microseconds);

/* ---- lower_lights.c ---- */

/* How the lights begin, the colours of layers, the lamps. */
void lower_lights(struct lowering *lowering, const struct uvk_scan_plan *scan);

/* ---- lower_macros.c ---- */

/* All macros, until they are more than an image can hold. */
void lower_macros(struct lowering *lowering);

#endif
