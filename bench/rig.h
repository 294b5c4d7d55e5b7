/* rig.h - what the two kinds of rigs share. */
#ifndef UVREK_BENCH_RIG_H
#define UVREK_BENCH_RIG_H

#include "uvrek/bench.h"
#include "uvrek/electric.h"
#include "uvrek/pair.h"

/* A contact is going to open or close. */
struct contact_change {
    uint64_t at;  /* nanoseconds */
    unsigned key; /* or, behind the keys, two contacts for each knob */
    bool closed;
};

struct rig_kind {
    /* Run up to UNTIL microseconds, with the contact changes due by then. */
    bool (*run)(struct uvk_rig *, uint64_t until, GError **);
    unsigned (*layers)(struct uvk_rig *, uint8_t *order, unsigned room);
    int64_t (*measure)(struct uvk_rig *, const char *name);
    enum uvk_transfer (*control)(struct uvk_rig *, const uint8_t setup[8], uint8_t *data,
                                 size_t *size);
    enum uvk_transfer (*give)(struct uvk_rig *, unsigned endpoint, const uint8_t *packet,
                              size_t size);
    void (*bus)(struct uvk_rig *, enum uvk_bus_event event);
    void (*button)(struct uvk_rig *);                          /* of reset */
    bool (*protocol)(struct uvk_rig *, bool boot, GError **);  /* HID 1.11, 7.2.6 */
    void (*cable)(struct uvk_rig *, enum uvk_rig_cable cable); /* crossed: of two lines */
    void (*noise)(struct uvk_rig *, unsigned percent);
    enum uvk_half_trouble (*trouble)(struct uvk_rig *); /* between the halves */
    void (*restart)(struct uvk_rig *, unsigned half);
    char *(*memory)(struct uvk_rig *, unsigned half);
    void (*decisions)(struct uvk_rig *, GArray *moments); /* adds UVK_MOMENT_DECISION */
    bool (*lights)(struct uvk_rig *, struct uvk_rig_lights *);
    bool (*lamps)(struct uvk_rig *,
                  uint8_t lamps); /* the host says which are lit; it is told */
    bool (*timing)(struct uvk_rig *, struct uvk_strip_timing *);
    void (*free)(struct uvk_rig *);
};

/* A report as it came over the wire. */
struct rig_report {
    unsigned endpoint;
    size_t size;
    uint8_t packet[64];
};

/* The first member of both kinds. */
struct uvk_rig {
    const struct rig_kind *kind;
    const struct uvk_program *program;
    struct uvk_rig_options options;
    struct uvk_host *host;
    uint64_t now;     /* microseconds */
    uint64_t silence; /* microseconds for which the keymap may wait without a report */
    uint64_t touched; /* when a finger last did something */
    GArray *changes;  /* of struct contact_change, by time */
    GArray *touches;  /* of struct uvk_moment, UVK_MOMENT_TOUCH and UVK_MOMENT_CABLE */
    GArray *reports;  /* of struct rig_report, that nobody has taken */
    uint32_t random;
    uint8_t phases[UVK_KNOBS_MAX];   /* of each knob: how many changes from its start, mod 4 */
    uint64_t turning[UVK_KNOBS_MAX]; /* microseconds: till then it turns */
    unsigned boot_interface;         /* of the keyboard that starts computers */
    bool in_bootloader;
    unsigned restarts;
    uint8_t lamps;                 /* that the keyboard was told of last */
    GArray *film;                  /* of struct uvk_frame */
    uint64_t film_step, film_next; /* microseconds; 0: no film */
    bool together; /* what the fingers do next is at the moment of what they did before */
};

void rig_init(struct uvk_rig *rig, const struct rig_kind *kind,
              const struct uvk_program *program, const struct uvk_rig_options *options);
void rig_clear(struct uvk_rig *rig);

/* lights.c: the host tells of its locks, where the board has lamps for them. */
void rig_tell_lamps(struct uvk_rig *rig);

/* When the lights are to be looked at the next time; and: they are, now. */
uint64_t rig_film_due(const struct uvk_rig *rig);
void rig_film_take(struct uvk_rig *rig);

/* Is what STEP expects of the lights there? If not, both sides as text; freed with g_free. */
bool rig_lights_are(struct uvk_rig *rig, const struct uvk_step *step, char **expected,
                    char **got);

/* A report has come over the wire. */
void rig_keep_report(struct uvk_rig *rig, unsigned endpoint, const uint8_t *packet,
                     size_t size);

/* Take the first contact change that is due by UNTIL nanoseconds. */
bool rig_next_change(struct uvk_rig *rig, uint64_t until, struct contact_change *change);

/* The board's net: of each half rows, columns, direct switches; then two pins for each knob,
 * ground, power. */
enum rig_side { RIG_ROW, RIG_COL, RIG_DIRECT, RIG_GROUND, RIG_POWER };
unsigned rig_pin(const struct uvk_board *board, unsigned half, enum rig_side side,
                 unsigned index);
unsigned rig_knob_pin(const struct uvk_board *board, unsigned contact);
unsigned rig_ground(const struct uvk_board *board);
unsigned rig_power(const struct uvk_board *board);
struct uvk_electric *rig_wire(const struct uvk_board *board,
                              const struct uvk_rig_options *options);
unsigned rig_picofarads(const struct uvk_rig_options *options);

/* miswired.c: how a switch really conducts between two pins; of a matrix, A is the end of its
 * row, wherever that wire goes. A switch of a wire that is open joins ground to ground. */
struct rig_end {
    unsigned half;
    enum rig_side side;
    unsigned index;
};
struct rig_switch {
    struct rig_end a, b;
    enum uvk_diode diode;
};
struct rig_switch rig_switch(const struct uvk_board *board, unsigned key,
                             const struct uvk_rig_options *options);

/* Which contact of its knob a turn closes first: is it the other one than the file says? */
bool rig_knob_is_wrong(const struct uvk_rig_options *options, unsigned knob);
/* The kind of fault that KEY has by itself, of those that fingers meet; UVK_WRONGS: none. */
enum uvk_wrong_kind rig_finger_fault(const struct uvk_rig_options *options, unsigned key);
/* The two ends of fault number AT if it joins two pins. */
bool rig_short(const struct uvk_rig_options *options, unsigned at, struct rig_end ends[2]);

/* The cable between the halves; where a wrong one was ordered, that one is in. One line cannot
 * be crossed. */
void rig_join(struct uvk_rig *rig, enum uvk_rig_cable cable);

/* enumerate.c: the host asks the keyboard that starts computers for a protocol. */
bool rig_set_protocol(struct uvk_rig *rig, bool boot);

/* enumerate.c: what the host does with a device that was just plugged in (USB 2.0, 9.1.2):
 * read its descriptors, configure it, describe its HID interfaces to the rig's host. The
 * IN endpoint of each interface into ENDPOINTS (0: none). */
bool rig_enumerate(struct uvk_rig *rig, uint8_t endpoints[UVK_HOST_INTERFACES], GError **error);

#endif
