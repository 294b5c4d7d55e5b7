/* wired.h - what was learned of a board's wiring, inside this room. */
#ifndef UVREK_LIVE_WIRED_H
#define UVREK_LIVE_WIRED_H

#include "uvrek/wiring.h"

/* Which way a switch conducts. */
enum way { WAY_UNKNOWN, WAY_HIGH_TO_LOW, WAY_BOTH, WAY_TO_GROUND };

/* What came of a key: between A and B; of a diode, current goes from A to B. To ground: B is
 * NULL. */
struct found_key {
    bool given;
    bool came;
    enum way way;
    const struct uvk_pin *a, *b;
};

struct found_knob {
    bool given;
    const struct uvk_pin *first, *second;
};

/* The pin of a wire; NULL: not known. */
struct found_half {
    const struct uvk_pin *rows[UVK_SIDE_MAX], *cols[UVK_SIDE_MAX], *direct[UVK_DIRECT_MAX];
    unsigned row_to_col, col_to_row, both; /* keys that conduct so */
};

struct joined_pins {
    const struct uvk_pin *a, *b;
};

struct uvk_wiring {
    const struct uvk_board *board;
    unsigned half;
    struct found_key *keys;
    struct found_knob *knobs;
    GArray *joined;   /* of struct joined_pins */
    GArray *grounded; /* of const struct uvk_pin * */
    bool listened;    /* for the cable between the halves: */
    GArray *across;   /* of struct joined_pins: A here, B in the other half */
};

/* wiring.c: does the probe see HALF? */
bool wiring_has_half(const struct uvk_wiring *wiring, unsigned half);
/* Which pin each wire of HALF is on. */
struct found_half wiring_solve(const struct uvk_wiring *wiring, unsigned half);
/* The same of one wire. */
const struct uvk_pin *wiring_pin(const struct found_half *found, const struct uvk_wire *wire);
/* Which way the diodes of HALF go, as far as its keys say; the file's, where they say nothing.
 */
enum uvk_flow wiring_flow(const struct uvk_wiring *wiring, unsigned half,
                          const struct found_half *found);

/* calls.c: which pins are joined to which of the other half, of struct joined_pins; freed with
 * g_array_unref. And the words behind `link` for such a cable, by the names of BOARD (NULL: the
 * chip's); SENDS stands first if it is among them. NULL: no link is like that. */
GArray *calls_pairs(const struct uvk_calls *calls);
char *pairs_link(const GArray *pairs, const struct uvk_board *board,
                 const struct uvk_pin *sends);

/* wiring_cable.c: the cable between the halves, and which of them is the main one, in sentences
 * with their evidence. */
void wiring_tell_cable(const struct uvk_wiring *wiring, GPtrArray *list);
void wiring_tell_main(const struct uvk_wiring *wiring, GPtrArray *list);
/* The words behind `link` and `main` that say how it is; NULL: those of the file do, or there
 * are none. Of the cable *WHY_NOT says then why there are none, if it should be another one.
 * Freed with g_free. */
char *wiring_link_words(const struct uvk_wiring *wiring, const char **why_not);
char *wiring_main_words(const struct uvk_wiring *wiring);

#endif
