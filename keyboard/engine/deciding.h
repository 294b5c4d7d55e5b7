/* deciding.h - the doors of the parts that say what a press comes to.
 *
 * Where a part is not built in, an empty stand-in takes its place: whoever calls it need not
 * ask what was built. The part's own file is empty then. */
#ifndef UVREK_ENGINE_DECIDING_H
#define UVREK_ENGINE_DECIDING_H

#include "parts.h"

/* ---- knobs.c: look at every knob, put its steps into the queue --------------------- */
#if UVK_MAX_KNOBS > 0
void uvk_knobs(struct uvk_engine *engine, struct uvk_port *port);
#else
static inline void uvk_knobs(struct uvk_engine *engine, struct uvk_port *port)
{
    (void)engine;
    (void)port;
}
#endif

/* ---- leader.c: while a sequence may come ------------------------------------------- */
#if UVK_USE_LEADER
/* The leader key goes down. */
void uvk_leader_start(struct uvk_engine *engine);
enum uvk_turn uvk_leader_turn(struct uvk_engine *engine);
static inline bool uvk_leader_listens(const struct uvk_engine *engine)
{
    return engine->leader.on;
}
#else
static inline void uvk_leader_start(struct uvk_engine *engine)
{
    (void)engine;
}
static inline enum uvk_turn uvk_leader_turn(struct uvk_engine *engine)
{
    (void)engine;
    return UVK_TURN_NEXT;
}
static inline bool uvk_leader_listens(const struct uvk_engine *engine)
{
    (void)engine;
    return false;
}
#endif

/* ---- combos.c: keys that are pressed together -------------------------------------- */
#if UVK_USE_COMBOS
/* Is the first event, a press, part of a combo? When one fires, its presses leave the queue
 * and the combo's own press takes their place. */
enum uvk_turn uvk_combos_turn(struct uvk_engine *engine);
/* A release that is about to be queued: of a key that a combo has, it becomes the combo's
 * own, or nothing. False: nothing. */
bool uvk_combos_release(struct uvk_engine *engine, struct uvk_event *event);
/* front.c: the row of the combo that KEY stands for; 0: it is a key of the board. */
uint8_t uvk_combo_row(const struct uvk_engine *engine, uint8_t key);
#else
static inline enum uvk_turn uvk_combos_turn(struct uvk_engine *engine)
{
    (void)engine;
    return UVK_TURN_NEXT;
}
static inline bool uvk_combos_release(struct uvk_engine *engine, struct uvk_event *event)
{
    (void)engine;
    (void)event;
    return true;
}
static inline uint8_t uvk_combo_row(const struct uvk_engine *engine, uint8_t key)
{
    (void)engine;
    (void)key;
    return 0;
}
#endif

/* ---- tap or hold: resolve.c over feel.c and dances.c, history.c and pulse.c below -- */
#if UVK_USE_HOLDS
/* resolve.c: what the action of DECISION, about the first event, a press, comes to. *BY is
 * the tap-hold that said so; UVK_NOTHING: none. */
enum uvk_turn uvk_resolve(struct uvk_engine *engine, struct uvk_decision *decision,
                          uvk_action *by);
/* What one tap of ACTION does. */
uvk_action uvk_one_tap(const struct uvk_engine *engine, uvk_action action);

/* feel.c: the action of DECISION is a tap-hold; it becomes the side that it comes to. */
enum uvk_turn uvk_feel_turn(struct uvk_engine *engine, struct uvk_decision *decision);
/* The same question by the feel at ROW alone: enum uvk_reason, UVK_WHY_PLAIN: too early. */
uint8_t uvk_feel_ask(struct uvk_engine *engine, uint8_t row, struct uvk_decision *decision);
bool uvk_reason_is_tap(uint8_t reason);

/* history.c: what was pressed and tapped, as far as later decisions need it. */
void uvk_history_start(struct uvk_engine *engine);
/* A press is worked out: BY as of uvk_resolve. */
void uvk_history_pressed(struct uvk_engine *engine, const struct uvk_decision *decision,
                         uvk_action by);
/* A key comes up, with the flags of its hold. This may begin a pulse. */
void uvk_history_released(struct uvk_engine *engine, const struct uvk_event *event,
                          uint8_t flags);
/* Another key is pressed: what is held alone is so no longer. */
static inline void uvk_history_other(struct uvk_engine *engine)
{
    engine->memory.alone_key = UVK_NO_KEY;
}
/* Was another key than KEY pressed less than TIME before AT? */
bool uvk_history_lacks_rest(const struct uvk_memory *memory, uint8_t key, uint16_t at,
                            uint16_t time);
/* Was KEY tapped less than TIME before AT? */
bool uvk_history_is_again(struct uvk_memory *memory, uint8_t key, uint16_t at, uint16_t time);
/* The combo in SLOT is another one now. */
void uvk_history_forget_slot(struct uvk_engine *engine, uint8_t slot);
/* Forget what is too long ago to matter. */
void uvk_history_age(struct uvk_engine *engine);

/* pulse.c: KEY does ACTION, and stops at once. */
void uvk_pulse_start(struct uvk_engine *engine, uint8_t key, uvk_action action,
                     enum uvk_reason reason);
/* perform.c: one of its two steps. */
enum uvk_turn uvk_pulse_turn(struct uvk_engine *engine, struct uvk_port *port);
static inline bool uvk_pulse_waits(const struct uvk_engine *engine)
{
    return engine->pulse.next != 0;
}
#else
static inline enum uvk_turn uvk_resolve(struct uvk_engine *engine,
                                        struct uvk_decision *decision, uvk_action *by)
{
    (void)engine;
    (void)decision;
    (void)by;
    return UVK_TURN_NEXT;
}
static inline bool uvk_reason_is_tap(uint8_t reason)
{
    (void)reason;
    return false;
}
static inline void uvk_history_start(struct uvk_engine *engine)
{
    (void)engine;
}
static inline void uvk_history_pressed(struct uvk_engine *engine,
                                       const struct uvk_decision *decision, uvk_action by)
{
    (void)engine;
    (void)decision;
    (void)by;
}
static inline void uvk_history_released(struct uvk_engine *engine,
                                        const struct uvk_event *event, uint8_t flags)
{
    (void)engine;
    (void)event;
    (void)flags;
}
static inline void uvk_history_other(struct uvk_engine *engine)
{
    (void)engine;
}
static inline void uvk_history_forget_slot(struct uvk_engine *engine, uint8_t slot)
{
    (void)engine;
    (void)slot;
}
static inline void uvk_history_age(struct uvk_engine *engine)
{
    (void)engine;
}
static inline enum uvk_turn uvk_pulse_turn(struct uvk_engine *engine, struct uvk_port *port)
{
    (void)engine;
    (void)port;
    return UVK_TURN_NEXT;
}
static inline bool uvk_pulse_waits(const struct uvk_engine *engine)
{
    (void)engine;
    return false;
}
#endif

/* ---- dances.c: a key that counts taps --------------------------------------------- */
#if UVK_USE_DANCES
/* The taps that are counted: is it time to do what they say? */
enum uvk_turn uvk_dances_age(struct uvk_engine *engine);
/* The first event is a press: does it go on with the taps that are counted? */
enum uvk_turn uvk_dances_turn(struct uvk_engine *engine);
/* The action of DECISION is a dance; it becomes what that comes to. */
enum uvk_turn uvk_dance_resolve(struct uvk_engine *engine, struct uvk_decision *decision);
uvk_action uvk_dance_one_tap(const struct uvk_engine *engine, uvk_action word);
static inline bool uvk_dances_count(const struct uvk_engine *engine)
{
    return engine->counting.taps != 0;
}
#else
static inline enum uvk_turn uvk_dances_age(struct uvk_engine *engine)
{
    (void)engine;
    return UVK_TURN_NEXT;
}
static inline enum uvk_turn uvk_dances_turn(struct uvk_engine *engine)
{
    (void)engine;
    return UVK_TURN_NEXT;
}
static inline enum uvk_turn uvk_dance_resolve(struct uvk_engine *engine,
                                              struct uvk_decision *decision)
{
    (void)engine;
    decision->action = UVK_NOTHING;
    return UVK_TURN_NEXT;
}
static inline uvk_action uvk_dance_one_tap(const struct uvk_engine *engine, uvk_action word)
{
    (void)engine;
    (void)word;
    return UVK_NOTHING;
}
static inline bool uvk_dances_count(const struct uvk_engine *engine)
{
    (void)engine;
    return false;
}
#endif

/* ---- long_press.c: switched off and on --------------------------------------------- */
#if UVK_USE_LONG_PRESS
void uvk_long_press_flip(struct uvk_engine *engine);
/* Is the key of a long press plain, and why? UVK_WHY_PLAIN: it is not. */
enum uvk_reason uvk_long_press_is_plain(const struct uvk_engine *engine);
#else
static inline void uvk_long_press_flip(struct uvk_engine *engine)
{
    (void)engine;
}
static inline enum uvk_reason uvk_long_press_is_plain(const struct uvk_engine *engine)
{
    (void)engine;
    return UVK_WHY_PLAIN;
}
#endif

/* ---- the trace: what was decided, for whoever asks why ----------------------------- */
#if UVK_TRACE
static inline void uvk_trace(struct uvk_engine *engine, const struct uvk_decision *decision)
{
    engine->trace.list[engine->trace.count++ % UVK_TRACE] = *decision;
}
#else
static inline void uvk_trace(struct uvk_engine *engine, const struct uvk_decision *decision)
{
    (void)engine;
    (void)decision;
}
#endif

#endif
