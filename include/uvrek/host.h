/* host.h - the host that a simulated keyboard is plugged into.
 *
 * 1. It knows nothing of the keyboard but the report descriptors that it is given
 *    (HID 1.11, section 6.2.2), and decodes every report by them.
 * 2. It keeps what a person would notice: the text, the keys pressed with their
 *    modifiers, what is down now, how far pointer and wheels moved.
 */
#ifndef UVREK_HOST_H
#define UVREK_HOST_H

#include "uvrek/host_layout.h"

#include <glib.h>

#ifdef __cplusplus
extern "C" {
#endif

#define UVK_HOST_INTERFACES 4u

enum uvk_hid_type { UVK_HID_INPUT, UVK_HID_OUTPUT, UVK_HID_FEATURE };

/* One main item of a report descriptor. */
struct uvk_hid_field {
    enum uvk_hid_type type;
    uint8_t report_id; /* 0: the interface has no report ids */
    uint16_t page;
    uint16_t application_page, application; /* the collection it stands in */
    const uint16_t *usages;                 /* one for each element; arrays: NULL */
    uint16_t usage_min;                     /* arrays: the usage of logical_min */
    int32_t logical_min, logical_max;
    unsigned size, count, offset; /* bits; the offset is behind the report id */
    bool constant, variable, relative;
};

struct uvk_hid {
    GArray *fields;  /* of struct uvk_hid_field */
    GPtrArray *kept; /* memory of the usage lists */
    bool has_ids;
};

/* Parse a report descriptor. NULL if it is broken; what is wrong with it in *WHY. */
struct uvk_hid *uvk_hid_parse(const uint8_t *bytes, size_t size, const char **why);
void uvk_hid_free(struct uvk_hid *hid);

/* A press that the host saw. */
struct uvk_press {
    uint64_t time; /* microseconds */
    uint16_t page, usage;
    uint8_t mods; /* down at that moment */
    bool alone;   /* a modifier during which nothing was pressed */
};

struct uvk_host;

/* A host with a layout (borrowed). BY_NUMBER: its system's input method for characters by
 * number is switched on, see layout.h. */
struct uvk_host *uvk_host_new(struct uvk_layout *layout, bool by_number);
void uvk_host_free(struct uvk_host *host);

/* The report descriptor of an interface, as the keyboard told it. False: *WHY. */
bool uvk_host_describe(struct uvk_host *host, unsigned interface, const uint8_t *bytes,
                       size_t size, const char **why);

/* The keyboard is gone: all that was held comes up. */
void uvk_host_unplug(struct uvk_host *host, uint64_t now);

/* A report arrives. False: it does not fit the descriptor. */
bool uvk_host_report(struct uvk_host *host, unsigned interface, const uint8_t *bytes,
                     size_t size, uint64_t now);

/* Somebody has switched one of the host's locks. */
void uvk_host_lock(struct uvk_host *host, enum uvk_lock lock, bool on);
/* The lamps that it wants lit for them, as uvk_port_lamps (port.h) has them. */
uint8_t uvk_host_lamps(const struct uvk_host *host);

/* What has happened since the last call of the same function. Freed by the caller. */
char *uvk_host_take_text(struct uvk_host *host);
GArray *uvk_host_take_presses(struct uvk_host *host); /* of struct uvk_press */

/* What is down now: modifiers as bits, the rest as presses in the order of pressing. */
uint8_t uvk_host_mods(const struct uvk_host *host);
const GArray *uvk_host_held(const struct uvk_host *host); /* of struct uvk_press */

/* Sum of all movement since the last call; the pointer's and the wheels' apart. */
struct uvk_movement {
    int x, y; /* right and down, or right and up of wheels */
};
struct uvk_movement uvk_host_take_pointer(struct uvk_host *host);
struct uvk_movement uvk_host_take_wheel(struct uvk_host *host);

/* One thing that the host noticed. */
enum uvk_notice_kind { UVK_NOTICE_PRESS, UVK_NOTICE_RELEASE, UVK_NOTICE_TEXT, UVK_NOTICE_MOVE };
struct uvk_notice {
    uint64_t time;
    enum uvk_notice_kind kind;
    uint16_t page, usage; /* PRESS, RELEASE, MOVE (of which axis) */
    uint8_t mods;         /* PRESS: down before it */
    int by;               /* MOVE */
    char text[8];         /* TEXT: one character, UTF-8, ends with a zero */
};

/* All that the host has noticed, in order; takes nothing away. */
const GArray *uvk_host_notices(const struct uvk_host *host); /* of struct uvk_notice */

/* When the first report since TIME came; false if none has. */
bool uvk_host_report_since(const struct uvk_host *host, uint64_t time, uint64_t *when);

/* Number of reports so far, and the time of the latest one. */
unsigned uvk_host_reports(const struct uvk_host *host, uint64_t *latest);

#ifdef __cplusplus
}
#endif

#endif
