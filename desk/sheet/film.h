/* film.h - lights as they look on paper. */
#ifndef UVREK_SHEET_FILM_H
#define UVREK_SHEET_FILM_H

#include "uvrek/bench.h"

/* 0xRRGGBB, as bright as the eye sees what was sent. */
unsigned film_colour(struct uvk_colour sent);

#endif
