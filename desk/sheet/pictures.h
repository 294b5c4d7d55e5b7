/* pictures.h - the pictures that a page may hold. Each returns its size in WIDTH and HEIGHT,
 * margins included. */
#ifndef UVREK_SHEET_PICTURES_H
#define UVREK_SHEET_PICTURES_H

#include "canvas.h"

#include "uvrek/text.h"

/* All layers in two columns, or the one LAYER. */
void picture_layers(const struct uvk_program *program, struct canvas *canvas, int layer,
                    double *width, double *height);

/* The address and the pins of each key. */
void picture_wiring(const struct uvk_program *program, struct canvas *canvas, double *width,
                    double *height);

/* The board as it is, and once more for each option that is not chosen. */
void picture_choices(const struct uvk_program *program, struct canvas *canvas, double *width,
                     double *height);

#endif
