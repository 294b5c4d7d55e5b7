/* macro_text.h - what a host received, as a macro that does it again. */
#ifndef UVREK_CLI_MACRO_TEXT_H
#define UVREK_CLI_MACRO_TEXT_H

#include "uvrek/bench.h"

/* The macro NAME as a statement of a keymap that types and taps what the host noticed among
 * MOMENTS, from START on; with the PAUSES between, or without. NULL: it noticed nothing, or
 * *ERROR says what a macro cannot do. Freed with g_free. */
char *macro_text(const char *name, const GArray *moments, uint64_t start, bool pauses,
                 GError **error);

#endif
