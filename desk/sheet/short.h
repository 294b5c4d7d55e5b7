/* short.h - names of keys where there is little room. */
#ifndef UVREK_SHEET_SHORT_H
#define UVREK_SHEET_SHORT_H

#include <glib.h>

/* TEXT, shortened as far as it must be to have WIDTH characters, if there is a short form that
 * everybody knows: "vol+" for volume-up. It may still be longer. Freed with g_free. */
char *short_text(const char *text, glong width);

#endif
