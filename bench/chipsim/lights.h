/* lights.h - pins that are watched for what they light: how bright, and what a strip
 * on them receives.
 *
 * 1. Times are nanoseconds, and never go back.
 * 2. A strip takes the bits of its lamps from how long the line is high, and takes over what
 * has come when the line has been low for LIGHTS_LATCH_NS.
 */
#ifndef UVREK_CHIPSIM_LIGHTS_H
#define UVREK_CHIPSIM_LIGHTS_H

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#define LIGHTS_MAX       12u
#define LIGHTS_NAME      8u
#define LIGHTS_LATCH_NS  280000u
#define LIGHTS_STEADY_NS 20000000u
#define LIGHTS_BYTES     1024u /* of a strip: 255 lamps of four */
#define LIGHTS_FULL      1000u

/* The shortest and the longest of something; LEAST over MOST: there was none. */
struct lights_range {
    uint64_t least, most;
};

struct lights_strip {
    uint8_t bytes[LIGHTS_BYTES], shown[LIGHTS_BYTES]; /* as they come; taken over */
    size_t bits, shown_size;
    unsigned frames;                     /* taken over so far */
    struct lights_range zero, one, rest; /* high for a 0, for a 1; low between two bits */
};

struct lights_pin {
    char name[LIGHTS_NAME];
    unsigned
        share; /* thousandths of the time that it is high now: 0 or LIGHTS_FULL, but for PWM */
    uint64_t since;        /* of that share */
    uint64_t rose;         /* when it last went high */
    uint64_t high, period; /* of the last whole period */
    struct lights_strip strip;
};

struct lights {
    struct lights_pin pins[LIGHTS_MAX];
    unsigned count;
};

/* Watch the pin NAME from NOW on. False: there are too many. */
bool lights_watch(struct lights *lights, const char *name, uint64_t now);
/* NULL: it is not watched. */
struct lights_pin *lights_find(struct lights *lights, const char *name);
/* From NOW on it is high for SHARE thousandths of the time. */
void lights_set(struct lights_pin *pin, uint64_t now, unsigned share);
/* How bright it is at NOW, thousandths: of the last whole period; where nothing has changed for
 * LIGHTS_STEADY_NS, as it is. */
unsigned lights_now(const struct lights_pin *pin, uint64_t now);
/* What the strip shows at NOW. */
const struct lights_strip *lights_strip(struct lights_pin *pin, uint64_t now);

#endif
