/* engine.h - from switch contacts to HID reports.
 *
 * 1. All state is in struct uvk_engine, which the caller owns. No heap, no globals, no
 *    recursion, no waiting: a process can hold as many keyboards as it likes.
 * 2. Time is passed in, in microseconds, and may wrap.
 * 3. One call of uvk_engine_pass reads the matrix once and moves what follows from it:
 *    scan -> debounce -> events -> leader -> combos -> dances and tap-holds -> layers ->
 *    actions -> reports.
 * 4. Nothing is lost while the host does not fetch: events wait in order in the queue;
 *    when that is full, contacts are not taken over from the debouncer until there is
 *    room. Only a key that goes down AND up while the queue is full goes unseen.
 * 5. A press counts at the first contact, or when it has been closed for `press-after`; a
 * release when the contact has been open for the debounce time. Debouncing costs a press no
 * time.
 * 6. A tap-hold key is decided by looking ahead in the queue: the keys pressed after it wait
 *    behind it, in order, and are then worked out on the layers that the decision leaves.
 *    When the queue is full, the oldest is decided as held.
 * 7. A macro runs a step at a time, without stopping the scan. Keys that are pressed
 *    meanwhile wait in the queue and are worked out when it has ended; when the queue is
 *    full, the oldest of them go first.
 * 8. Releases keep their place behind what waits where they could change its meaning: those
 *    of modifiers, layers and macros. All others pass at once: the host repeats no key that
 *    is up.
 * 9. Of what closes in one scan, modifiers and layer keys come first.
 * 10. A knob is two keys that no finger holds: a step is a press and a release at once.
 * 11. Keys that are down when the engine starts do nothing until they have come up: the
 *    key that restarted the keyboard does not restart it again.
 * 12. What is in priv/engine_state.h is the engine's own. A caller makes room for it, and looks
 *    at nothing there.
 */
#ifndef UVREK_ENGINE_H
#define UVREK_ENGINE_H

#include "uvrek/image.h"

#include <stdbool.h>

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_port; /* defined by each port, see port.h */

#if UVK_MAX_SENSES <= 8
typedef uint8_t uvk_bits;
#elif UVK_MAX_SENSES <= 16
typedef uint16_t uvk_bits;
#else
typedef uint32_t uvk_bits;
#endif

/* Combos that are down at once; in events each has a key of its own, from UVK_FIRST_COMBO on.
 */
#define UVK_COMBO_SLOTS 4u
#define UVK_FIRST_COMBO UVK_KEYS_MAX

/* Bytes of the longest report, its id included. */
#define UVK_REPORT_MAX 30u

/* Why a key does what it does. */
enum uvk_reason {
    UVK_WHY_PLAIN,      /* the cell says so */
    UVK_WHY_TIME,       /* hold: down for hold-after */
    UVK_WHY_UP,         /* tap: came up before hold-after */
    UVK_WHY_PRESS,      /* hold: another key was pressed (on-press) */
    UVK_WHY_NESTED,     /* hold: another key was pressed and came up (on-nested) */
    UVK_WHY_REST,       /* tap: no rest before it */
    UVK_WHY_AGAIN,      /* tap: the second one, quickly */
    UVK_WHY_ALONE,      /* tap: held in vain */
    UVK_WHY_FULL,       /* hold: no room for more waiting events */
    UVK_WHY_COMBO,      /* its keys were pressed together */
    UVK_WHY_HAND,       /* tap: another key of the same hand was pressed */
    UVK_WHY_OTHER,      /* tap: another key was pressed */
    UVK_WHY_DANCE,      /* so many taps */
    UVK_WHY_DANCE_HELD, /* so many taps, the last one held */
    UVK_WHY_LEADER,     /* the last key of a sequence */
    UVK_WHY_MODS,       /* tap: a long press, and a modifier was down */
    UVK_WHY_OFF,        /* tap: a long press, and those are off */
    UVK_REASONS
};

/* What was decided about a key that went down. */
struct uvk_decision {
    uint16_t pressed, decided; /* ms, as engine.now counts */
    uvk_action action;         /* what it does */
    uint8_t key;
    uint8_t cause;  /* the other key that decided it, or UVK_NO_KEY */
    uint8_t reason; /* enum uvk_reason */
    uint8_t taps;   /* of a dance */
    uint8_t combo;  /* KEY is a combo: which one, a row of their table */
};

struct uvk_engine;

/* The reports, in the order in which a press sends them. The number of those on the
 * second interface is their report id. */
enum uvk_report {
    UVK_REPORT_BOOT = 0,     /* interface 0: 8 bytes, HID 1.11 appendix B.1 */
    UVK_REPORT_KEYS = 1,     /* interface 1: modifiers and a bit for every key */
    UVK_REPORT_CONSUMER = 2, /* four 16-bit usages, 0 where there is none */
    UVK_REPORT_SYSTEM = 3,   /* a bit each for usages 0x81..0x83 */
    UVK_REPORT_MOUSE = 4,    /* buttons, x, y, wheel, pan */
    UVK_REPORTS = 5
};

/* Start with an IMAGE of SIZE bytes (checked here, see image.h), which must outlive the engine.
 * ROOM is sizeof *ENGINE: UVK_OTHER_BUILD if that is not what this library was built with,
 * which means that caller and library have different configurations. On any error ENGINE is
 * unchanged. */
enum uvk_status uvk_engine_start(struct uvk_engine *engine, size_t room, uvk_image_bytes image,
                                 uint16_t size, uint32_t now_us);

/* One pass, at time NOW_US. Call it at least every 100 ms, best every millisecond. */
void uvk_engine_pass(struct uvk_engine *engine, struct uvk_port *port, uint32_t now_us);

/* Nothing is held, nothing waits to be sent. */
bool uvk_engine_idle(const struct uvk_engine *engine);

/* Something waits: events to be worked out, reports to be sent. */
bool uvk_engine_busy(const struct uvk_engine *engine);

/* Send REPORT again though nothing changed (the host's idle rate, HID 1.11, 7.2.4). */
void uvk_engine_repeat(struct uvk_engine *engine, enum uvk_report report);

/* The report as it would go out now, id included where it has one (HID 1.11, 7.2.1).
 * Returns its length in bytes, 0 if this keyboard has no such report. */
uint8_t uvk_engine_report(const struct uvk_engine *engine, enum uvk_report report,
                          uint8_t out[UVK_REPORT_MAX]);

/* What goes where. Interface 0 is the boot keyboard, interface 1 all the rest. (Interface 2,
 * the live door, is usb.h's.) */
#define UVK_INTERFACES 2u
static inline uint8_t uvk_report_interface(enum uvk_report report)
{
    return report == UVK_REPORT_BOOT ? 0 : 1;
}

/* The HID report descriptor of an interface, in ROM; its length into *SIZE. */
uvk_image_bytes uvk_report_descriptor(uint8_t interface, uint16_t *size);

#ifdef __cplusplus
}
#endif

#include "uvrek/priv/engine_state.h" /* struct uvk_engine */

/* On a chip there is one engine. Its port gives it this name, so that the compiler knows where
 * it is: that makes a firmware a fortieth smaller. The bench looks for it as well. */
#if !__STDC_HOSTED__
extern struct uvk_engine uvk_keyboard;
#endif

#endif
