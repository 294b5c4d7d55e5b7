/* play.h - a play: what fingers do, and what the host should have got. Desk side. */
#ifndef UVREK_PLAY_H
#define UVREK_PLAY_H

#include "uvrek/source.h"
#include "uvrek/syntax.h"
#include "uvrek/value.h"

#ifdef __cplusplus
extern "C" {
#endif

enum uvk_step_kind {
    UVK_STEP_DOWN,           /* key */
    UVK_STEP_UP,             /* key */
    UVK_STEP_TAP,            /* key, time: how long it is held */
    UVK_STEP_WAIT,           /* time */
    UVK_STEP_TURN,           /* key: which knob; x: detents, clockwise is positive */
    UVK_STEP_SETTLE,         /* until nothing is pending */
    UVK_STEP_LOCK,           /* key: enum uvk_lock; x: on or off */
    UVK_STEP_PROTOCOL,       /* x: the boot protocol, or not */
    UVK_STEP_PULL,           /* the cable between the halves */
    UVK_STEP_JOIN,           /* the same */
    UVK_STEP_CROSS,          /* the same: it crosses the wrong way */
    UVK_STEP_NOISE,          /* x: of a hundred frames on it, how many are damaged */
    UVK_STEP_RESTART,        /* key: which half */
    UVK_STEP_EXPECT_TEXT,    /* text */
    UVK_STEP_EXPECT_KEYS,    /* values */
    UVK_STEP_EXPECT_HELD,    /* values */
    UVK_STEP_EXPECT_LAYERS,  /* values: LAYER */
    UVK_STEP_EXPECT_POINTER, /* x, y */
    UVK_STEP_EXPECT_WHEEL,   /* x, y */
    UVK_STEP_EXPECT_DELAY,   /* time: that long is too long */
    UVK_STEP_EXPECT_LEVEL,   /* x: of brightness; 0: dark */
    UVK_STEP_EXPECT_EFFECT,  /* x: enum uvk_effect */
    UVK_STEP_EXPECT_COLOUR,  /* x: 0xRRGGBB, of the lamp below key */
    UVK_STEP_EXPECT_LAMPS    /* x: bits of the board's lamps */
};

struct uvk_step {
    struct uvk_place place;
    enum uvk_step_kind kind;
    unsigned key;  /* index into the board's keys */
    uint64_t time; /* microseconds */
    const char *text;
    int x, y;
    struct uvk_value *values;
    unsigned value_count;
    struct uvk_step *next;
};

struct uvk_play {
    struct uvk_place place;
    const char *name;
    struct uvk_step *steps;
    struct uvk_play *next;
};

struct uvk_program;

/* Read one step of a play against PROGRAM (which has board and keymap), as in
 * "tap a for 300ms". NULL if it has a mistake: then it is in MESSAGES; NULL without a
 * message if TEXT holds nothing. The step lives as long as the program. */
const struct uvk_step *uvk_step_read(struct uvk_program *program, const char *text,
                                     struct uvk_messages *messages);

#ifdef __cplusplus
}
#endif

#endif
