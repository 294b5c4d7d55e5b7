/* known.h - what is known of the characters of each layout and system. */
#ifndef UVREK_TESTS_KNOWN_H
#define UVREK_TESTS_KNOWN_H

#include "uvrek/host_layout.h"

/* docs/characters.md, freed with g_free. */
char *known_characters(void);

#endif
