/* canvas.h - shapes, collected and then written as a file. Lengths are pixels of the PNG. */
#ifndef UVREK_SHEET_CANVAS_H
#define UVREK_SHEET_CANVAS_H

#include <glib.h>
#include <stdbool.h>
#include <stdint.h>

enum tone { TONE_NONE, TONE_PAPER, TONE_PALE, TONE_MIDDLE, TONE_INK, TONE_ACCENT };
enum anchor { ANCHOR_LEFT, ANCHOR_MIDDLE, ANCHOR_RIGHT };

struct canvas;

struct canvas *canvas_new(void);
void canvas_free(struct canvas *canvas);

/* What is added from now on is turned by DEGREES clockwise about X, Y; 0: no longer. */
void canvas_turn(struct canvas *canvas, double degrees, double x, double y);

/* A rectangle; HATCHED has slanted lines instead of the fill's plain area. */
void canvas_box(struct canvas *canvas, double x, double y, double width, double height,
                enum tone fill, enum tone line, bool hatched);
void canvas_line(struct canvas *canvas, double x1, double y1, double x2, double y2,
                 enum tone tone, double width, bool dashed);
void canvas_circle(struct canvas *canvas, double x, double y, double radius, enum tone fill,
                   enum tone line);
/* What was added last has this colour, 0xRRGGBB, on any paper. */
void canvas_colour(struct canvas *canvas, unsigned colour);
/* TEXT with its baseline at Y, SIZE pixels high. */
void canvas_text(struct canvas *canvas, double x, double y, double size, enum tone tone,
                 enum anchor anchor, bool bold, const char *text);

/* How wide TEXT would be. */
double canvas_text_width(double size, bool bold, const char *text);

/* A rectangle with round corners. */
void canvas_cap(struct canvas *canvas, double x, double y, double width, double height,
                double radius, enum tone fill, enum tone line);

/* Write all shapes on paper of WIDTH x HEIGHT, DARK or light. The file's name ends in .svg,
 * .png or .pdf. */
bool canvas_write(const struct canvas *canvas, double width, double height, bool dark,
                  const char *path, GError **error);

#endif
