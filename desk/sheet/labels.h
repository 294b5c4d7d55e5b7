/* labels.h - text that fits. */
#ifndef UVREK_SHEET_LABELS_H
#define UVREK_SHEET_LABELS_H

#include "canvas.h"

/* TEXT in the middle of a box around X, Y: as large as fits, up to SIZE, in several lines if
 * its words are long; shortened only when even small letters do not fit. */
void label_draw(struct canvas *canvas, double x, double y, double width, double height,
                double size, enum tone tone, bool bold, const char *text);

#endif
