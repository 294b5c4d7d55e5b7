/* grid.h - a picture of characters: boxes that share their lines, and words in them. */
#ifndef UVREK_SHEET_GRID_H
#define UVREK_SHEET_GRID_H

#include <glib.h>
#include <stdbool.h>

struct grid {
    int width, height;
    gunichar *cells; /* 0: nothing was put there */
};

struct grid grid_new(int width, int height);
void grid_clear(struct grid *grid);

/* What is outside is not put, and reads as a space. */
void grid_put(struct grid *grid, int x, int y, gunichar character);
gunichar grid_get(const struct grid *grid, int x, int y);

void grid_box(struct grid *grid, int x, int y, int width, int height);

/* NAME in the middle of WIDTH characters, in a short form if it has to be; what is too long
 * even so loses its end. */
void grid_word(struct grid *grid, int x, int y, int width, const char *name);

/* Has even the short form of NAME more than WIDTH characters? */
bool grid_is_long(const char *name, int width);

/* All lines, without spaces at their ends. Freed with g_free. */
char *grid_text(const struct grid *grid);

#endif
