/* bench.h - a simulated keyboard on a bench: fingers, switches, chip, cable, host.
 *
 * 1. A rig is one keyboard with its switches and wires (electric.h), plugged into a host
 *    (host.h). Its time is virtual: nothing here waits.
 * 2. There are two kinds. The native one runs the engine in this process on the Linux
 *    port. The other runs the machine code of a chip in a program of its own. Both have
 *    the same fingers, contacts and host, and the same plays run on them.
 * 3. Contacts bounce when they close and when they open, by a seed: the same seed gives
 *    the same bouncing.
 * 4. Times are microseconds since the rig was switched on. The host polls once in each
 *    millisecond, as a full-speed USB host does.
 */
#ifndef UVREK_BENCH_H
#define UVREK_BENCH_H

#include "uvrek/engine.h"
#include "uvrek/host.h"
#include "uvrek/problem.h"
#include "uvrek/text.h"
#include "uvrek/wrong.h"

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_rig_options {
    uint32_t seed;
    uint32_t bounce; /* microseconds that a contact bounces at the most; 0: never */
    const struct uvk_wrong *wrongs; /* how the board is not as its file says: WRONG_COUNT */
    unsigned wrong_count;
    uint64_t film; /* microseconds from one look at the lights to the next; 0: none is kept */
    unsigned picofarads; /* of each wire, see electric.h; 0: UVK_WIRE_DEFAULT */
    bool boot_protocol;  /* the host asks for the boot protocol, as a BIOS does */
    bool other_host; /* the computer's cable is in the half that is not the board's main one;
                        not for the native kind */
    /* Machine code of the half without the computer's cable; NULL: both have the same, but for
     * the half that it is for. Not for the native kind. */
    const uint8_t *other_flash;
    size_t other_size;
    const char
        *memories[2]; /* what outlives the power, of each half, as uvk_rig_memory; or NULL */
};

#define UVK_BOUNCE_DEFAULT 1500u

struct uvk_rig;

/* A keyboard with IMAGE (borrowed) on the engine in this process. */
struct uvk_rig *uvk_rig_native(const struct uvk_program *program, const uint8_t *image,
                               uint16_t size, const struct uvk_rig_options *options,
                               GError **error);

/* A keyboard whose chip holds what is in FLASH, SIZE bytes of machine code. ELF is the
 * file with its symbols, NULL if there is none: then the layers cannot be seen. It is
 * enumerated like any USB device; if that fails, so does this. */
struct uvk_rig *uvk_rig_chip(const struct uvk_program *program, const uint8_t *flash,
                             size_t size, const char *elf,
                             const struct uvk_rig_options *options, GError **error);

void uvk_rig_free(struct uvk_rig *rig);

/* A finger presses or lets go of a key; what follows happens while the rig runs. */
void uvk_rig_press(struct uvk_rig *rig, unsigned key, bool down);

/* Fingers turn a knob by DETENTS, clockwise if positive; contacts change from now on, one
 * every UVK_PHASE_US. Returns the microseconds that it takes. */
#define UVK_PHASE_US 6000u
uint64_t uvk_rig_turn(struct uvk_rig *rig, unsigned knob, int detents);

/* The next touch comes at the very moment of the last one, and neither bounces, so that one
 * scan sees both. Until the next touch, or until time passes, Is says so. */
void uvk_rig_together(struct uvk_rig *rig);
bool uvk_rig_is_together(const struct uvk_rig *rig);

/* The host asks for the boot protocol, as a setup screen does before the system starts, or for
 * the usual one again. False: it was refused, *ERROR says why. */
bool uvk_rig_protocol(struct uvk_rig *rig, bool boot, GError **error);

/* Let TIME microseconds pass. False when the chip has stopped: *ERROR says why. */
bool uvk_rig_run(struct uvk_rig *rig, uint64_t time, GError **error);

/* Let time pass until contacts have stopped bouncing and no report has come for 50 ms more
 * than the longest time that the keymap can wait: for a tap-hold, a combo, in a macro. */
bool uvk_rig_settle(struct uvk_rig *rig, GError **error);

struct uvk_host *uvk_rig_host(struct uvk_rig *rig);
uint64_t uvk_rig_now(const struct uvk_rig *rig);
uint64_t uvk_rig_touched(const struct uvk_rig *rig); /* when a finger last did something */

/* How often it has restarted, as board:restart lets it. */
unsigned uvk_rig_restarts(const struct uvk_rig *rig);

/* The firmware has started the bootloader: the keyboard is gone. */
bool uvk_rig_in_bootloader(const struct uvk_rig *rig);

/* The layers that are on, latest last; their number, at most ROOM. 0: cannot be seen. */
unsigned uvk_rig_layers(struct uvk_rig *rig, uint8_t *order, unsigned room);

/* ---- what happened ---------------------------------------------------------------- */

/* The cable between two halves; CROSSED: a wrong one, whose two lines cross, or do not. */
enum uvk_rig_cable { UVK_CABLE_IN, UVK_CABLE_OUT, UVK_CABLE_CROSSED };

/* One moment of a rig's life: a finger, a decision of the keyboard, the host. */
enum uvk_moment_kind {
    UVK_MOMENT_TOUCH,    /* source, down */
    UVK_MOMENT_CABLE,    /* cable: between the halves, from then on */
    UVK_MOMENT_DECISION, /* source, since, decision, text. Not with a chip: it keeps none */
    UVK_MOMENT_NOTICE    /* notice */
};
struct uvk_moment {
    uint64_t time; /* microseconds */
    enum uvk_moment_kind kind;
    unsigned source; /* a key of the board; behind those two for each knob, left first */
    bool down;
    enum uvk_rig_cable cable;
    uint64_t since;               /* DECISION: when the key was pressed */
    struct uvk_decision decision; /* DECISION, as the engine says it */
    struct uvk_notice notice;     /* NOTICE */
    char *text;                   /* DECISION: why, as a person reads it */
};

/* All moments of a rig, by time; freed with uvk_moments_free. */
GArray *uvk_rig_moments(struct uvk_rig *rig); /* of struct uvk_moment */
void uvk_moments_free(GArray *moments);

/* What a source is called: "s (r0c0)", "jog +1", of a decision also "a+b" for a combo. Freed
 * with g_free. */
char *uvk_source_text(const struct uvk_program *program, unsigned source);
char *uvk_moment_source(const struct uvk_program *program, const struct uvk_moment *moment);

/* Why a keyboard decided so: "tap: came up in time, after 80 ms". Its reason and the key that
 * caused it are the engine's. Freed with g_free. */
char *uvk_decision_text(const struct uvk_program *program, const struct uvk_decision *decision);

/* What the host noticed: "ctrl", "wheel-up", "\"a\"". Freed with g_free. */
char *uvk_notice_text(const struct uvk_notice *notice);

/* What happened, one thing a line, times counted from START, as `play --why` prints it. Each
 * line is freed with the array. */
GPtrArray *uvk_moments_lines(const struct uvk_program *program, const GArray *moments,
                             uint64_t start); /* of char * */

/* ---- what lights up ---------------------------------------------------------------- */

/* What can be seen of the lights. */
struct uvk_rig_lights {
    bool known;        /* the engine could be looked into: level, effect, scale are its own */
    uint8_t level;     /* 0: dark */
    uint8_t effect;    /* enum uvk_effect */
    uint8_t scale;     /* of the strip's colours, as they were sent */
    uint8_t backlight; /* how much of the time it is lit, of 255 */
    uint8_t lamps;     /* of the main half: bit n is set when lamp n of the board is lit */
    unsigned count;    /* lamps of the strips, half by half */
    struct uvk_colour strip[UVK_STRIP_MAX]; /* as they were sent: scaled */
};

/* False: the board has no lights, or they cannot be seen. */
bool uvk_rig_lights(struct uvk_rig *rig, struct uvk_rig_lights *lights);

/* The lights at a moment. */
struct uvk_frame {
    uint64_t time; /* microseconds */
    struct uvk_rig_lights lights;
};
/* What was seen of them, by time; the rig's own. Of a long time every second look is left out
 * again and again, so that there are at most UVK_FRAMES_MOST. */
#define UVK_FRAMES_MOST 1024u
const GArray *uvk_rig_film(const struct uvk_rig *rig); /* of struct uvk_frame */

/* The colour of which SCALED is what a strip was sent. */
struct uvk_colour uvk_colour_in_full(struct uvk_colour scaled, uint8_t scale);

/* What the strip of a chip's main half received: whole frames; the shortest and the longest
 * nanoseconds of a 0, of a 1, and from a bit to the next. False: it cannot be seen. */
struct uvk_strip_timing {
    unsigned frames;
    unsigned zero[2], one[2], rest[2];
};
bool uvk_rig_strip_timing(struct uvk_rig *rig, struct uvk_strip_timing *timing);

/* ---- halves with a link ------------------------------------------------------------ */

/* The cable between the halves; CROSSED: a wrong one, whose two lines cross, or do not. Of a
 * hundred frames on it, so many are damaged. Without a link: nothing happens. */
void uvk_rig_cable(struct uvk_rig *rig, enum uvk_rig_cable cable);
void uvk_rig_noise(struct uvk_rig *rig, unsigned percent);

/* A half of the board starts again. */
void uvk_rig_restart_half(struct uvk_rig *rig, unsigned half);

/* What is wrong between the halves, and what to do about it; NULL: nothing. */
const char *uvk_rig_trouble(struct uvk_rig *rig);

/* ---- only with a chip ------------------------------------------------------------- */

/* A control transfer to the chip (USB 2.0, 8.5.3): SETUP, then *SIZE bytes of DATA from or
 * to it. *SIZE becomes what was transferred; DATA has room for the wLength of SETUP. */
enum uvk_transfer { UVK_TRANSFER_DONE, UVK_TRANSFER_STALL, UVK_TRANSFER_FAILED };
enum uvk_transfer uvk_rig_control(struct uvk_rig *rig, const uint8_t setup[8], uint8_t *data,
                                  size_t *size);

/* Reports as they came over the wire, of ENDPOINT, the oldest first: the last UVK_REPORTS_KEPT
 * that nobody has taken. False: there is none. */
#define UVK_REPORTS_KEPT 256u
bool uvk_rig_take_report(struct uvk_rig *rig, unsigned endpoint, uint8_t packet[64],
                         size_t *size);
void uvk_rig_forget_reports(struct uvk_rig *rig);

/* One try to bring a packet of SIZE bytes, at most 64, to an interrupt endpoint OUT.
 * UVK_TRANSFER_FAILED: the chip does not take it now. */
enum uvk_transfer uvk_rig_give(struct uvk_rig *rig, unsigned endpoint, const uint8_t *packet,
                               size_t size);

/* Something happens on the bus (USB 2.0, 7.1.7): the host goes to sleep; it wakes up; it resets
 * the bus and goes to sleep just when the chip has seen the reset. */
enum uvk_bus_event { UVK_BUS_SUSPEND, UVK_BUS_RESUME, UVK_BUS_RESET_THEN_SUSPEND };
void uvk_rig_bus(struct uvk_rig *rig, enum uvk_bus_event event);

/* What outlives the power, of the chip of HALF (0 where there is one), as hex; freed with
 * g_free. NULL: it is not known. */
char *uvk_rig_memory(struct uvk_rig *rig, unsigned half);

/* Somebody presses the reset button of the board. */
void uvk_rig_reset_button(struct uvk_rig *rig);

/* What the chip's simulator measured, by name ("idle-cycles", "worst-cycles", "passes",
 * "stack-bytes", "wakeups", "usb-stopped"; "forget" starts anew); -1 if it did not. */
int64_t uvk_rig_measure(struct uvk_rig *rig, const char *name);

/* ---- plays ------------------------------------------------------------------------ */

struct uvk_outcome {
    const struct uvk_play *play;
    const struct uvk_step *failed; /* NULL: the play passed */
    char *expected, *got;          /* when it failed */
    const char *trouble;  /* and was something wrong between the halves? NULL: nothing */
    GArray *moments;      /* of struct uvk_moment: all that happened */
    GArray *film;         /* of struct uvk_frame, if one was asked for */
    uint64_t start, time; /* microseconds: when it began, how long it took */
};

/* One step of a play. 1: well. 0: an expectation failed, both sides in *OUTCOME.
 * -1: the rig stopped, *ERROR says why. */
int uvk_step_run(const struct uvk_program *program, struct uvk_rig *rig,
                 const struct uvk_step *step, struct uvk_outcome *outcome, GError **error);

/* All steps of PLAY, up to the first that fails. */
int uvk_play_run(const struct uvk_program *program, struct uvk_rig *rig,
                 const struct uvk_play *play, struct uvk_outcome *outcome, GError **error);
void uvk_outcome_clear(struct uvk_outcome *outcome);

/* What is held and pressed, as the language writes it. Freed with g_free. */
char *uvk_presses_text(const GArray *presses);
char *uvk_held_text(const struct uvk_host *host);

#ifdef __cplusplus
}
#endif

#endif
