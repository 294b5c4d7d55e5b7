/* figures.h - the rows of `make bench`. */
#ifndef UVREK_TESTS_FIGURES_H
#define UVREK_TESTS_FIGURES_H

#include "uvrek/text.h"

#include <stdbool.h>

/* A figure beside its budget. */
void row(const char *what, double value, const char *unit, double budget, bool at_least);

/* A program; its mistakes are printed. */
struct uvk_program *read_program(const char *text);

/* halves.c: what two halves cost, and what a bad cable does. Firmware is kept in the folder
 * CACHE. */
void measure_halves(const char *cache);

/* lights.c: a strip on both chips. */
void measure_lights(const char *cache);

/* editor.c: the server for text editors, with TEXT open, which is WHAT. */
void measure_editor(const char *what, const char *text);

/* live.c: the live door of both chips. */
void measure_live(const char *cache);

#endif
