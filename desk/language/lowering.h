/* lowering.h - what is between the model and the image, for the files that lower it. */
#ifndef UVREK_TEXT_LOWERING_H
#define UVREK_TEXT_LOWERING_H

#include "uvrek/image_write.h"
#include "uvrek/text.h"

struct lowering {
    struct uvk_program *program;
    GArray *chords;    /* of struct uvk_chord_row */
    GArray *holds;     /* of struct uvk_hold_row */
    GArray *feels;     /* of struct uvk_feel; empty if nothing is held */
    GArray *whens;     /* of struct uvk_when_row */
    GArray *combos;    /* of struct uvk_combo */
    GArray *parts;     /* of uint8_t */
    GArray *steps;     /* of struct uvk_macro_step */
    GArray *texts;     /* of uint8_t */
    GArray *dances;    /* of struct uvk_dance */
    GArray *lines;     /* of uvk_action */
    GArray *sequences; /* of struct uvk_sequence */
    unsigned *macros;  /* row of the steps where each macro begins */
    unsigned once;     /* 1: a `once` is among the actions */
    unsigned knobs;    /* of the board, or none */
    unsigned keys;     /* of the image: switches, and two for each knob */
};

/* ---- lower_values.c ---- */

/* The action word of VALUE; its rows of other tables are added as they are needed. */
uvk_action lower_value(struct lowering *lowering, const struct uvk_value *value);

/* Microseconds of the model in those of the image. */
uint16_t milliseconds(double microseconds);

/* ---- lower_macros.c ---- */

/* All macros, until they are more than an image can hold. */
void lower_macros(struct lowering *lowering);

#endif
