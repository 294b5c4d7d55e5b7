/* sheet.h - pictures.
 *
 * 1. The form follows from the file's name: .svg or .png.
 * 2. Text is text: it can be selected and searched in an SVG.
 * 3. Pictures read well in black and white: nothing is told by colour alone.
 * 4. A file is written whole or not at all.
 */
#ifndef UVREK_SHEET_H
#define UVREK_SHEET_H

#include "uvrek/bench.h"

/* A play over time: fingers on their keys, what was undecided and why it was decided so, what
 * the host saw, the text. False: *ERROR says why. */
bool uvk_timeline_draw(const struct uvk_program *program, const struct uvk_outcome *outcome,
                       const char *path, GError **error);

#endif
