/* discovery.h - a board that is learned from nothing: its switches in discovery.c, its text in
 * discovery_text.c. */
#ifndef UVREK_LIVE_DISCOVERY_H
#define UVREK_LIVE_DISCOVERY_H

#include "uvrek/wiring.h"

/* A switch between two pins: of a diode, current goes from A to B. To ground: B is NULL. */
struct found {
    const struct uvk_pin *a, *b;
    bool both_ways;
    unsigned line; /* of the keys as they lie */
};

struct knob {
    char *name;
    struct uvk_turned turned;
    unsigned before; /* it stands before the key of that number, in this line */
    unsigned line;
};

struct uvk_discovery {
    const struct uvk_chip *chip;
    GArray *keys;  /* of struct found */
    GArray *knobs; /* of struct knob */
    unsigned line;
};

static inline struct found *discovery_at(const struct uvk_discovery *discovery, guint at)
{
    return &g_array_index(discovery->keys, struct found, at);
}

/* Which wires its switches hang on. */
struct laid {
    const struct uvk_discovery *discovery;
    GPtrArray *rows, *cols, *direct; /* of const struct uvk_pin *, as they came */
    bool rows_first;                 /* of a diode, current goes from the row to the column */
    unsigned both, one_way;          /* switches without a diode, and with one */
};

/* False: *ERROR says why they make no matrix. Cleared either way. */
bool discovery_lay_out(struct laid *laid, const struct uvk_discovery *discovery,
                       GError **error);
void discovery_clear(struct laid *laid);

/* Where PIN stands in LIST, -1: nowhere. */
int discovery_place(const GPtrArray *list, const struct uvk_pin *pin);

#endif
