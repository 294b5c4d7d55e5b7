/* door.h - the live door: a running keyboard is read and changed from the desk.
 *
 * 1. A request is UVK_DOOR_BYTES, and so is its answer, which begins with the same number.
 *    docs/live.md has every byte of them. They come and go on an interface of their own
 *    (usb.h); the door itself does not know how.
 * 2. Everybody is told who the keyboard is. All else needs the consent of whoever sits in front
 *    of it: it picks three of its keys, and they are pressed in that order. Those presses go
 *    nowhere else. Only contacts count, so that no program can press them.
 * 3. What is to change is staged beside what is in force (changes.h), looked at a little in
 *    each pass, and takes effect as a whole when no key is down. Then it is kept.
 * 4. Whoever is watching is told what is pressed, what is decided, and which layers are on.
 * Each event has a number; what found no room is missing among the numbers. Who tries keys may
 * have their presses kept from the host, as long as requests come: UVK_WATCH_KEEPS.
 * 5. Nothing here waits, and a pass with the door open is bounded like any other.
 * 6. A probe (UVK_USE_PROBE) is a firmware that learns the wiring of a board. Each pin of the
 * chip is selected in turn and all others are read; what conducts is told as UVK_EVENT_SWITCH.
 * It has no keys, types nothing and keeps nothing, so its door is always open.
 */
#ifndef UVREK_DOOR_H
#define UVREK_DOOR_H

#include "uvrek/changes.h"

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_engine;
struct uvk_port;
struct uvk_journal;

#define UVK_DOOR_BYTES   32u /* of a request, an answer, a report of events */
#define UVK_DOOR_VERSION 1u  /* of what they mean */
#define UVK_DOOR_KEYS    3u  /* that are to be pressed */
#define UVK_DOOR_CONTENT 30u /* bytes behind the number and the code */

/* Where it is, of a USB keyboard: interface and endpoints, and the page of its reports (one of
 * those that are left to vendors: HID Usage Tables 1.3, section 3). */
#define UVK_LIVE_INTERFACE  2u
#define UVK_LIVE_IN         3u
#define UVK_LIVE_OUT        4u
#define UVK_LIVE_PAGE       0xFF4Cu
#define UVK_LIVE_ITEM_BYTES 25u /* of its report descriptor */

enum uvk_door_request {
    UVK_DOOR_WHO = 1, /* who are you; also with the door closed, as are the next four */
    UVK_DOOR_OPEN,    /* ask for consent */
    UVK_DOOR_ASKED,   /* how far is it? */
    UVK_DOOR_SKIP,    /* the key that is to be pressed now does not work: pick another one */
    UVK_DOOR_CLOSE,
    UVK_DOOR_READ,   /* bytes of what is built in, or of what is changed */
    UVK_DOOR_WRITE,  /* bytes of the room, staged */
    UVK_DOOR_TAKE,   /* look at what is staged, and let it take effect */
    UVK_DOOR_STAGED, /* what has become of that? */
    UVK_DOOR_FORGET, /* back to what is built in */
    UVK_DOOR_WATCH,  /* tell of what happens, or no more */
    UVK_DOOR_RESTART,
    UVK_DOOR_BOOTLOADER,
    UVK_DOOR_LIGHT, /* light one thing alone for a while, to look at it (lights.h) */
    UVK_DOOR_REQUESTS
};

enum uvk_door_answer {
    UVK_DOOR_DONE,
    UVK_DOOR_IS_CLOSED,  /* it needs consent first */
    UVK_DOOR_UNKNOWN,    /* there is no such request */
    UVK_DOOR_NONSENSE,   /* what it asks for is not there, or not allowed */
    UVK_DOOR_NO_ROOM,    /* it does not fit the room */
    UVK_DOOR_OTHER_IMAGE /* the changes are for another built-in image */
};

enum uvk_door_state {
    UVK_DOOR_CLOSED,
    UVK_DOOR_STIRS, /* it is about to pick keys */
    UVK_DOOR_ASKS,
    UVK_DOOR_IS_OPEN
};

/* Why it does not ask any more. */
enum uvk_door_ended { UVK_DOOR_NOT_ASKED, UVK_DOOR_WRONG_KEY, UVK_DOOR_TOO_LATE };

/* What is staged. */
enum uvk_staged {
    UVK_STAGED_NOTHING,
    UVK_STAGED_CHECKING,
    UVK_STAGED_WAITING, /* for all keys to be up */
    UVK_STAGED_TAKEN,   /* it is in force */
    UVK_STAGED_REFUSED  /* enum uvk_refused says why */
};
enum uvk_refused {
    UVK_REFUSED_NOT,
    UVK_REFUSED_TABLE, /* a table is not where it may be */
    UVK_REFUSED_SUM,
    UVK_REFUSED_VALUE, /* a value means nothing, or needs what is not built in */
    UVK_REFUSED_HELD   /* a key was down for UVK_DOOR_HELD_MS; ask again */
};

#define UVK_DOOR_HELD_MS  2000u
#define UVK_DOOR_ASKS_S   60u  /* seconds until it gives up asking */
#define UVK_DOOR_OPEN_S   600u /* seconds without a request until it closes */
#define UVK_DOOR_NOISE    16u  /* bytes of noise that are mixed for each key */
#define UVK_DOOR_TOGETHER 4u   /* keys that may be down at once while it asks */

/* Flags of "who are you". */
#define UVK_DOOR_KEEPS_OTHER 0x01u /* it keeps changes of another built-in image */
#define UVK_DOOR_IS_HALF     0x02u /* it has a link to another half */
#define UVK_DOOR_IS_SECOND   0x04u
#define UVK_DOOR_HAS_OTHER   0x08u /* the other half answers */

/* What UVK_DOOR_READ reads. */
enum uvk_door_source { UVK_DOOR_BUILT, UVK_DOOR_KEPT };

/* Events; UVK_DOOR_WATCH takes a bit for each. */
enum uvk_door_event {
    UVK_EVENT_CONTACT = 1, /* a key: it went down, or came up */
    UVK_EVENT_DECISION,    /* what it does, and why */
    UVK_EVENT_LAYERS,      /* a layer went on or off */
    UVK_EVENT_SWITCH       /* a switch where no key is: it went down, or came up */
};

/* Beside the events, in UVK_DOOR_WATCH: presses are told and go nowhere else. Keys that come up
 * are up for the host as well. It ends when no request has come for UVK_DOOR_KEEPS_S. */
#define UVK_WATCH_KEEPS  0x01u
#define UVK_DOOR_KEEPS_S 3u

/* An event is nine bytes: its kind, with UVK_EVENT_ON if it is down or on; key or layer; when,
 * two bytes of milliseconds that wrap (of a decision: when the key went down); of a decision
 * why (enum uvk_reason), the key that decided it or how many taps of a dance, which combo, and
 * the action, two bytes. Of a turn of a knob: how many changes of its contacts were too fast to
 * be seen one by one. Of a switch the key is its scan line, and behind the time stands its
 * sense. A contact that was down already when the watching began has a 1 behind that. */
#define UVK_EVENT_ON        0x80u
#define UVK_EVENT_BYTES     9u
#define UVK_EVENTS_A_REPORT 3u
#ifndef UVK_EVENTS_KEPT /* that wait to be told */
#define UVK_EVENTS_KEPT 8u
#endif

/* What is built in, a bit each, as "who are you" tells it. */
#define UVK_FEATURE_BITS                                                                       \
    ((uint32_t)UVK_USE_CONSUMER | (uint32_t)UVK_USE_SYSTEM << 1 |                              \
     (uint32_t)UVK_USE_MOUSE << 2 | (uint32_t)UVK_USE_POINTER << 3 |                           \
     (uint32_t)UVK_USE_BOARD << 4 | (uint32_t)UVK_USE_CHORDS << 5 |                            \
     (uint32_t)UVK_USE_HOLDS << 6 | (uint32_t)UVK_USE_HANDS << 7 |                             \
     (uint32_t)UVK_USE_AGAIN << 8 | (uint32_t)UVK_USE_LONG_PRESS << 9 |                        \
     (uint32_t)UVK_USE_DANCES << 10 | (uint32_t)UVK_USE_STICKY << 11 |                         \
     (uint32_t)UVK_USE_BLOCKS << 12 | (uint32_t)UVK_USE_WHENS << 13 |                          \
     (uint32_t)UVK_USE_COMBOS << 14 | (uint32_t)UVK_USE_LEADER << 15 |                         \
     (uint32_t)UVK_USE_MACROS << 16 | (uint32_t)UVK_USE_TYPE << 17 |                           \
     (uint32_t)UVK_USE_PRESS_AFTER << 18 | (uint32_t)(UVK_MAX_KNOBS > 0) << 19 |               \
     (uint32_t)UVK_USE_PROBE << 20 | (uint32_t)UVK_USE_LIGHTS << 22 |                          \
     (uint32_t)UVK_USE_LIGHT_CELLS << 23 | (uint32_t)UVK_USE_BACKLIGHT << 24 |                 \
     (uint32_t)UVK_USE_STRIP << 25 | (uint32_t)(UVK_MAX_LAMPS > 0) << 26)
#define UVK_PROBE_BIT ((uint32_t)1u << 20)

struct uvk_door_setup {
    struct uvk_journal *journal; /* opened; NULL: nothing outlives the power */
    uvk_image_bytes note;        /* what is behind the image (formats.h) */
    uint16_t note_size;
    uint16_t board;    /* sixteen bits that stand for the board */
    uint32_t features; /* what is built in, see docs/live.md */
};

/* The engine has been started, on IMAGE: what was kept takes effect, if it is for that image.
 * Without a live door in the image, nothing happens. */
void uvk_door_start(struct uvk_engine *engine, struct uvk_port *port,
                    const struct uvk_door_setup *setup);

/* Can a request be taken? Not while an answer has not gone out. */
bool uvk_door_is_free(const struct uvk_engine *engine);

/* A request has come, UVK_DOOR_BYTES long. The answer waits after that. */
void uvk_door_take(struct uvk_engine *engine, const uint8_t *request);

/* Put the next report that is to go out into OUT; false: there is none. */
bool uvk_door_next(struct uvk_engine *engine, uint8_t out[UVK_DOOR_BYTES]);

/* A millisecond has passed; before each pass. A keyboard that never calls it has no door. */
void uvk_door_tick(struct uvk_engine *engine, struct uvk_port *port);

/* A port that has time left before the next pass may spend it here instead of asleep: changes
 * are looked at sooner. It takes no more than a tenth of a millisecond. False: there is nothing
 * to do.
 */
bool uvk_door_spare(struct uvk_engine *engine);

/* Is it open, and does it ask? */
enum uvk_door_state uvk_door_state(const struct uvk_engine *engine);

/* The keyboard was unplugged from its host, as far as it can tell. */
void uvk_door_close(struct uvk_engine *engine);

/* Four bytes that tell this keyboard from others; 0: it has none. */
uint32_t uvk_door_serial(const struct uvk_engine *engine);

#ifdef __cplusplus
}
#endif

#endif
