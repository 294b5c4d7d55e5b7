/* engine_state.h - what an engine keeps from one pass to the next.
 *
 * Here so that a caller can make room for it without a heap. Nothing here is promised: names,
 * sizes and order change from one version to the next.
 */
#ifndef UVREK_PRIV_ENGINE_STATE_H
#define UVREK_PRIV_ENGINE_STATE_H

#include "uvrek/door.h"
#include "uvrek/engine.h"
#include "uvrek/lights.h"
#include "uvrek/link.h"

/* Which layers are on, the latest on top. order[0] is layer 0, always.
 * First in the engine, so that a debugger or the bench can find it. */
struct uvk_layers {
    uint8_t count;
    uint8_t order[UVK_MAX_LAYERS];
};

struct uvk_debounce {
    uvk_bits down[UVK_MAX_LINES];     /* what the engine believes */
    uvk_bits changing[UVK_MAX_LINES]; /* at the last pass the contact was otherwise */
    uint8_t since[UVK_MAX_LINES * UVK_MAX_SENSES]; /* ms, low byte: otherwise since then */
};

struct uvk_event {
    uint16_t at; /* ms, wraps */
    uint8_t key; /* or a combo, see UVK_FIRST_COMBO */
    bool down;
};

struct uvk_queue {
    struct uvk_event events[UVK_QUEUE];
    uint8_t first, count;
};

/* What the first press in the queue means, as far as the parts that look at it have said. It
 * is cleared when that press leaves the queue, or another one goes before it. */
struct uvk_front {
    uvk_action word; /* what it does; UVK_SEE_THROUGH: what its cell says */
    uint8_t reason;  /* enum uvk_reason: why WORD; UVK_WHY_PLAIN: the cell */
    uint8_t taps;    /* of the dance that says so */
    uint8_t asked;   /* UVK_ASKED_ bits: who has looked at it already */
};
#define UVK_ASKED_ORDER  0x01u /* nothing that closed in the same scan goes first */
#define UVK_ASKED_COMBOS 0x02u /* it is no part of a combo, or is one itself */

/* A key that is down and what it does until it comes up. */
struct uvk_hold {
    uvk_action action; /* neither CHORD nor HOLD: resolved when the key went down */
    uint8_t mods;      /* modifiers that it holds, eight report bits */
    uint8_t key;
    uint8_t flags; /* UVK_HOLD_ bits */
};
#define UVK_HOLD_FRESH  0x01u /* a `once` that nothing has used yet: it may become sticky */
#define UVK_HOLD_YIELDS 0x02u /* up for a moment: another key is about to do the same */
#define UVK_HOLD_MACRO  0x04u /* pressed by the macro that KEY started */
#define UVK_HOLD_TAP    0x08u /* the tap side of a tap-hold */

struct uvk_holds {
    /* in the order of pressing */
    struct uvk_hold list[UVK_MAX_KEYS + UVK_COMBO_SLOTS * UVK_USE_COMBOS +
                         UVK_MACRO_HOLDS * UVK_USE_MACROS];
    uint8_t count;
    bool yields; /* one of them is up for a moment */
};

#if UVK_TRACE
/* The latest decisions; the bench reads them, a small chip does not keep them. */
struct uvk_trace {
    struct uvk_decision list[UVK_TRACE];
    uint32_t count; /* of all so far; the latest is at (count - 1) % UVK_TRACE */
};
#endif

#if UVK_USE_HOLDS
/* What deciding about tap-hold keys has to remember. */
struct uvk_memory {
    uint16_t pressed_at[2]; /* the last press, and the last one of another key */
    uint8_t pressed_key[2]; /* UVK_NO_KEY: longer ago than matters */
    uint8_t alone_key;      /* a tap-hold key that is held, and nothing else was pressed */
    uvk_action alone_tap;
#if UVK_USE_AGAIN
    /* When the latest tap of each key, as a tap-hold, came up; 0: longer ago than matters.
     * Behind the keys the slots of the combos. */
    uint16_t tapped_at[UVK_MAX_KEYS + UVK_COMBO_SLOTS * UVK_USE_COMBOS];
    uint8_t aging; /* the next of these to be looked at */
#endif
};

/* A tap that the engine adds by itself, in two steps: it has to be seen to go down. */
struct uvk_pulse {
    uvk_action action;
    uint8_t key;
    uint8_t next;   /* 0: none; 1: it goes down next; 2: it comes up next */
    uint8_t reason; /* enum uvk_reason */
    uint8_t taps;   /* of a dance */
    uint8_t combo;  /* KEY is a combo: which one */
};
#endif

#if UVK_USE_DANCES
/* The taps of a dance that have been counted and not yet done. */
struct uvk_counting {
    uvk_action word; /* of the dance */
    uvk_action cell; /* what the place said at the first press */
    uint16_t released;
    uint8_t key;
    uint8_t combo; /* KEY is a combo: which one */
    uint8_t taps;  /* 0: none */
};
#endif

#if UVK_USE_LEADER
struct uvk_leading {
    uint16_t since; /* ms: when the leader key went down */
    bool on;        /* a sequence may come */
};
#endif

#if UVK_MAX_KNOBS > 0
struct uvk_turning {
    uint8_t place; /* 0..3 in the cycle of the phases */
    bool clockwise;
    int8_t count; /* changes of phase since the last detent */
    int8_t owed;  /* steps that have found no room in the queue yet */
#if UVK_USE_LIVE
    uint8_t missed; /* changes since the last step that were not seen one by one */
#endif
};
#endif

#if UVK_USE_POINTER
struct uvk_pointer {
    uint8_t point, wheel; /* ways that keys go, a bit for each of enum uvk_wheel */
    uint8_t pace;         /* a bit for each of enum uvk_pace */
    uint16_t at;          /* ms, of the latest movement */
    uint16_t speed, ramp; /* counts in a second now, and the rest of the next count */
    uint16_t far, turned; /* thousandths of the next count, and of the next notch */
};
#endif

#if UVK_USE_COMBOS
/* A combo that has fired, until the last of its keys is up. */
struct uvk_fired {
    uint8_t row;
    uint8_t keys;   /* how many it has */
    uint16_t first; /* where they stand, see struct uvk_combo */
    bool last_up;
    uint8_t down; /* its keys that are still down, a bit each; 0: all are up */
    bool over;    /* its action has ended */
};
#endif

#if UVK_USE_MACROS
/* The macro that runs. While it does, key events wait in the queue. */
struct uvk_running {
    uint16_t row;   /* the next step */
    uint16_t until; /* ms: waiting till then */
    uint8_t key;    /* that started it, and owns what it holds */
    uint8_t mods;   /* a `once` that waited: for what it presses */
    uint8_t held;   /* what all macros hold */
    bool on;
    bool keeps; /* what it holds at its end, its release part lets go */
    bool waits; /* UNTIL counts */
#if UVK_USE_TYPE
    bool types;     /* a text has begun */
    bool lifts;     /* the host sees no modifiers but TYPED */
    uint8_t typed;  /* modifiers of the text's own, now */
    uint8_t kept;   /* those that stay down from one stroke to the next */
    uint8_t stroke; /* usage of the key of the text that is down; 0: none */
    uint16_t text;  /* row of the next stroke */
#endif
};
#endif

#if UVK_USE_STICKY
#define UVK_LAYER_BYTES ((UVK_MAX_LAYERS + 7) / 8)
struct uvk_sticky {
    uint8_t mods;                     /* `once`, waiting for a key */
    uint8_t waiting[UVK_LAYER_BYTES]; /* `once`, waiting for a key: a bit for each layer */
    uint16_t since;                   /* when the latest of them began to wait */
    uint16_t pressed;                 /* when the latest fresh hold went down */
    uint8_t toggled;                  /* modifiers that stay down */
    uint8_t blocked;                  /* modifiers that do not reach the host */
    bool fresh;                       /* a hold may be fresh */
    bool waits;                       /* MODS or WAITING have something */
    uint8_t layers[UVK_LAYER_BYTES];  /* toggled on */
};
#endif

#define UVK_BITMAP_BYTES   28u /* usages 0x00..0xDF */
#define UVK_CONSUMER_SLOTS 4   /* media keys at once; a fifth waits for one to come up */

/* What all that is held adds up to. */
struct uvk_told {
    struct {
        uint8_t mods;
        uint8_t bitmap[UVK_BITMAP_BYTES]; /* a bit for each usage */
    } keys;
#if UVK_USE_CONSUMER
    uint16_t consumer[UVK_CONSUMER_SLOTS]; /* in the order of pressing; 0: free */
#endif
#if UVK_USE_SYSTEM
    uint8_t system; /* bits 0..2: usages 0x81..0x83; bit 3: microphone mute */
#endif
#if UVK_USE_MOUSE
    uint8_t buttons;
#endif
};

/* What the host should know, and which reports still have to say it. */
struct uvk_reports {
    uint8_t dirty; /* bits by enum uvk_report */
    bool boot;     /* the protocol that the host asked for at the last pass */
    bool releases; /* the latest change was a release: send in reverse order */
    struct uvk_told told;
#if UVK_USE_MOUSE
    int8_t wheel, pan; /* notches since the last report */
#endif
#if UVK_USE_POINTER
    int8_t x, y; /* counts since the last report */
#endif
};

#if UVK_USE_LINK
#define UVK_HALF_GONE (2u * UVK_HALF_GONE_MS)
struct uvk_pair {
    bool linked; /* it has been told what it is; else all lines are here */
    bool second, leads;
    bool second_wins;      /* where both see a host */
    uint8_t role;          /* enum uvk_half_role */
    uint8_t answer_ms;     /* the next question waits so long for an answer */
    uint16_t second_knobs; /* bit N: knob N is on the second half */
    uint16_t print;        /* of the image */
    struct uvk_receiver receiver;
    uint8_t number;  /* of the latest question */
    uint8_t silence; /* since something good came, up to UVK_HALF_GONE: 2 for each ms, 1 if
                        bytes came */
    bool heard;      /* a byte has come since */
    uint8_t waited;  /* ms since the latest question */
    uint8_t print_seen,
        print_differs; /* bits: of the other half's print, low byte and high byte */
    bool answered;     /* the latest question */
    bool met;          /* where the other half's knobs stand is known */
    bool known;        /* what was down there at the start has been seen */
    bool fresh; /* the other one: the main half does not know yet where the knobs stand */
    bool said;  /* the other one: an answer has gone out */
    bool same_half;
    uint8_t lamps, layer;             /* the other one: as the main half told */
    uvk_bits contacts[UVK_MAX_LINES]; /* the main one: of the other half's lines */
#if UVK_MAX_KNOBS > 0
    uint8_t places[UVK_MAX_KNOBS]; /* of each knob, a count that wraps */
#endif
};
#endif

#if UVK_USE_LIVE
/* The keys that are to be pressed, and what is pressed. */
struct uvk_consent {
    uint8_t state;  /* enum uvk_door_state */
    uint16_t noise; /* mixed from all that came so far */
    uint8_t keys[UVK_DOOR_KEYS];
    bool skips;                      /* another one is to be picked */
    uint8_t pressed;                 /* how many of them */
    uint8_t down[UVK_DOOR_TOGETHER]; /* keys whose releases go nowhere, plus 1; 0: none */
    uint8_t ended;                   /* enum uvk_door_ended */
    uint16_t seconds, ms;            /* since the last request, or since it asks */
};

struct uvk_staging {
    uint8_t state;   /* enum uvk_staged */
    uint8_t refused; /* enum uvk_refused */
    uint8_t present; /* which of CHANGES is in force */
    bool unkept;     /* what is in force is not in the journal yet */
    bool other;      /* changes of another image are kept */
    uint16_t ms;     /* in this state */
    struct uvk_changes changes[2];
    struct uvk_check check; /* of the image as staged */
};

struct uvk_watching {
    uint8_t mask;    /* bits: enum uvk_door_event */
    uint8_t count;   /* of EVENTS, that wait */
    bool begins;     /* what is down already is to be told, see UVK_WATCH_KEEPS */
    bool lost;       /* one has found no room: nothing is added before all have gone */
    uint16_t number; /* of the next event */
    uint16_t first;  /* of the first one that waits */
    uint8_t told[(UVK_MAX_LAYERS + 7) / 8]; /* layers that are on, as far as was told */
    uint8_t events[UVK_EVENTS_KEPT][UVK_EVENT_BYTES];
};

struct uvk_door {
    bool on; /* this keyboard has one */
    struct uvk_door_setup setup;
    struct uvk_consent consent;
    struct uvk_staging staging;
    struct uvk_watching watching;
    bool answers; /* ANSWER waits to go out */
    uint8_t
        leaves; /* the request that makes it restart, when the answer has gone out; 0: none */
    uint8_t leaves_ms;
    uint8_t answer[UVK_DOOR_BYTES];
};
#endif

#if UVK_USE_LIGHTS
/* What is shown. Behind the layers, so that the bench can find it. */
struct uvk_lit {
    uint8_t level; /* 0 to levels */
    uint8_t effect;
    uint8_t off;   /* 1: dark, whatever the level */
    uint8_t scale; /* of the strip's colours, as they were sent last */
};

/* One thing alone is lit, for whoever looks at it. */
struct uvk_shown {
    uint8_t kind; /* enum uvk_light_shown */
    uint8_t lamp;
    struct uvk_colour colour;
    uint16_t ms; /* that are left */
};

struct uvk_lights {
    struct uvk_light set; /* of the image */
    uint32_t phase;       /* of the effect's period, in 2^24ths */
    uint16_t at;          /* ms: the phase is of then */
    uint8_t kept[2];      /* what was kept last */
    uint8_t brightness;   /* of the level, as it was worked out last */
    uint8_t bright_of;    /* that level; UVK_BRIGHT_OF_NONE: it is to be worked out */
    uint8_t backlight;    /* the port was told last */
    bool places;          /* keys lie above lamps of the strip */
    struct uvk_shown shown;
    struct uvk_light_view view; /* at the last pass */
#if UVK_USE_LINK
    uint8_t told[UVK_LIGHTS_TOLD]; /* the other half: as the main one has told */
#endif
};
#define UVK_BRIGHT_OF_NONE 0xFFu
#endif

#if UVK_USE_STRIP
struct uvk_strip_state {
    uvk_bits touched[UVK_MAX_LINES];     /* closed since this frame began */
    uvk_bits seen[UVK_MAX_LINES];        /* and in the frame before it: what this one shows */
    struct uvk_colour base;              /* what the effect is shown in */
    bool of_layer;                       /* BASE is the layer's own */
    uint8_t next;                        /* the lamp that is worked out next */
    bool differs;                        /* this frame from the one that is shown */
    uint8_t fade;                        /* of the glow, from one frame to the next */
    uint16_t began;                      /* phase at the frame's start */
    uint16_t sum;                        /* of the frame's colours so far, a quarter of it */
    uint8_t presses;                     /* a count that wraps */
    uint8_t origin;                      /* the lamp below the key that was pressed last */
    uint16_t pressed;                    /* phase of that press */
    bool ripples;                        /* that ring is still to be seen */
    uint8_t glow[UVK_MAX_STRIP];         /* of each lamp, of all halves */
    uint8_t colours[3u * UVK_OWN_STRIP]; /* red, green, blue of each lamp of this half */
};
#endif

struct uvk_engine {
    struct uvk_layers layers;
#if UVK_USE_LIGHTS
    struct uvk_lit lit;
#endif
    struct uvk_image image;
    uint16_t settings[UVK_SETTINGS]; /* of the image, copied at the start */
    struct uvk_front front;
    struct uvk_debounce debounce;
    struct uvk_queue queue;
    struct uvk_holds holds;
    struct uvk_reports reports;
#if UVK_USE_HOLDS
    struct uvk_memory memory;
    struct uvk_pulse pulse;
#endif
#if UVK_USE_DANCES
    struct uvk_counting counting;
#endif
#if UVK_USE_LEADER
    struct uvk_leading leader;
#endif
#if UVK_MAX_KNOBS > 0
    struct uvk_turning turning[UVK_MAX_KNOBS];
#endif
#if UVK_USE_LINK
    struct uvk_pair pair;
#endif
#if UVK_USE_POINTER
    struct uvk_pointer pointer;
#endif
#if UVK_USE_MACROS
    struct uvk_running macro;
#endif
#if UVK_USE_COMBOS
    struct uvk_fired fired[UVK_COMBO_SLOTS];
    uint8_t fired_last; /* the slot that was taken last */
#endif
#if UVK_USE_STICKY
    struct uvk_sticky sticky;
#endif
#if UVK_USE_BLOCKS
    uint8_t blocked[UVK_BITMAP_BYTES]; /* usages that do not reach the host */
#endif
#if UVK_USE_LONG_PRESS
    bool no_long_press; /* switched off: its keys are plain */
#endif
#if UVK_TRACE
    struct uvk_trace trace;
#endif
#if UVK_USE_LIGHTS
    struct uvk_lights lights;
#endif
#if UVK_USE_STRIP
    struct uvk_strip_state strip;
#endif
#if UVK_USE_LIVE
    struct uvk_door door;
#endif
    uint32_t clock_us; /* time of the latest whole millisecond */
    uint16_t now;      /* that millisecond, counted from the start; wraps */
    uint16_t at;       /* ms: when what is being worked out happened */
    uint8_t looked;    /* place in the queue: the next release that may pass others */
    bool scanned;      /* the first scan has been */
};

#endif
