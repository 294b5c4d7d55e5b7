/* parts.h - the doors between the parts of a scan pass, in the order of the pass.
 * Each part is the file of its name; data flows from the upper ones to the lower. */
#ifndef UVREK_ENGINE_PARTS_H
#define UVREK_ENGINE_PARTS_H

#include "uvrek/engine.h"

/* scan.c: read every line, debounce it, put what changed into the queue. */
void uvk_scan(struct uvk_engine *engine, struct uvk_port *port);

/* knobs.c: look at every knob, put its steps into the queue. */
void uvk_knobs(struct uvk_engine *engine, struct uvk_port *port);

/* What a part that looks ahead says of the first event, or of there being none. */
enum uvk_turn {
    UVK_TURN_NEXT, /* it is for the next part */
    UVK_TURN_WAIT, /* it is too early to say */
    UVK_TURN_DONE  /* the part has done something: look again */
};

/* debounce.c: the bits of LINE whose believed state should flip now. A flip that is not
 * accepted is offered again at the next pass. */
uvk_bits uvk_debounce_line(struct uvk_debounce *debounce, uint8_t line, uint8_t senses,
                           uvk_bits closed, uint16_t now, uint8_t window);
void uvk_debounce_accept(struct uvk_debounce *debounce, uint8_t line, uvk_bits bit);

/* A bit by its number, modulo 8: a small chip shifts one place at a time. */
static inline uint8_t uvk_bit(uint8_t number)
{
    extern const UVK_ROM uint8_t uvk_bits_of_a_byte[8]; /* queue.c */

    return uvk_bits_of_a_byte[number & 7u];
}

/* queue.c: events in order. Push answers false when there is no room; there is no event at
 * an INDEX beyond the last, then At answers NULL. */
bool uvk_queue_push(struct uvk_queue *queue, const struct uvk_event *event);
struct uvk_event *uvk_queue_at(struct uvk_queue *queue, uint8_t index);
/* The place behind EVENT; going through many is cheaper than asking for each. */
static inline struct uvk_event *uvk_queue_next(struct uvk_queue *queue, struct uvk_event *event)
{
    return event == &queue->events[UVK_QUEUE - 1] ? queue->events : event + 1;
}
void uvk_queue_drop(struct uvk_queue *queue);
void uvk_queue_remove(struct uvk_queue *queue, uint8_t index);

/* The first press in the queue that waits; NULL: none. */
struct uvk_event *uvk_queue_press(struct uvk_queue *queue);
/* The event at INDEX becomes the first one; those before it move up. */
void uvk_queue_to_front(struct uvk_queue *queue, uint8_t index);

/* leader.c: while a sequence may come. */
enum uvk_turn uvk_leader_look(struct uvk_engine *engine);

/* combos.c: is the first event, a press, part of a combo? When one fires, its presses leave
 * the queue and the combo's own press takes their place: done. */
enum uvk_turn uvk_combos_look(struct uvk_engine *engine);
/* A release that is about to be queued: of a key that a combo has, it becomes the combo's
 * own, or nothing. False: nothing. */
bool uvk_combos_release(struct uvk_engine *engine, struct uvk_event *event);
uvk_action uvk_combos_action(const struct uvk_engine *engine, uint8_t source);

/* macros.c: KEY starts the macro at ROW, and MODS go with what it presses; KEY comes up: its
 * release part, if it has one. None may be running. */
void uvk_macro_start(struct uvk_engine *engine, uint16_t row, uint8_t key, uint8_t mods);
void uvk_macro_released(struct uvk_engine *engine, uint16_t row, uint8_t key);
bool uvk_macro_has_release_part(const struct uvk_engine *engine, uint16_t row);
/* One step of the one that runs. */
enum uvk_turn uvk_macro_step(struct uvk_engine *engine, struct uvk_port *port);
/* Does no macro hold anything, and is none in the midst of a character? */
bool uvk_macro_is_between(const struct uvk_engine *engine);
/* What it waits for is over. */
void uvk_macro_hurry(struct uvk_engine *engine);
/* The modifiers that a text has lifted are back, until its next stroke. False: there are
 * none. */
#if UVK_USE_TYPE
bool uvk_macro_unlift(struct uvk_engine *engine);
#else
static inline bool uvk_macro_unlift(struct uvk_engine *engine)
{
    (void)engine;
    return false;
}
#endif

/* decide.c: what the cell of the first event in the queue, a press, comes to. False: it is
 * too early to say. *ACTION is the cell itself if it is no tap-hold. */
bool uvk_decide(struct uvk_engine *engine, uvk_action cell, uvk_action *action,
                struct uvk_decision *decision);
/* The same by the feel at ROW alone: enum uvk_reason, UVK_WHY_PLAIN if it is too early. */
uint8_t uvk_decide_by_feel(struct uvk_engine *engine, uint8_t row,
                           struct uvk_decision *decision);
/* Afterwards: remember the press, and what came of it. */
void uvk_decide_pressed(struct uvk_engine *engine, const struct uvk_decision *decision,
                        uvk_action cell);
/* A key comes up, with the flags of its hold. This may begin a pulse. */
void uvk_decide_released(struct uvk_engine *engine, const struct uvk_event *event,
                         uint8_t flags);
bool uvk_is_tap(uint8_t reason);
/* Forget what is too long ago to matter. */
void uvk_decide_age(struct uvk_engine *engine);
/* KEY does ACTION and stops at once; of a tap-hold or a dance, what one tap does. */
void uvk_pulse_start(struct uvk_engine *engine, uint8_t key, uvk_action action,
                     enum uvk_reason reason);

/* dances.c: the taps that are counted: is it time to do what they say? */
enum uvk_turn uvk_dance_look(struct uvk_engine *engine);
/* The first event is a press, and no more part of a combo than it says: does it go on with
 * the taps that are counted? */
enum uvk_turn uvk_dance_press(struct uvk_engine *engine);
/* *CELL is a dance, and the first event its press: what does it come to? False: it is too
 * early to say, or the press was counted and is gone. */
bool uvk_dance_decide(struct uvk_engine *engine, uvk_action *cell,
                      struct uvk_decision *decision);
uvk_action uvk_dance_one_tap(const struct uvk_engine *engine, uvk_action word);

/* layers.c: which are on, and what a key means on them. Switching on what is on changes
 * nothing; layer 0 never goes off. */
void uvk_layers_reset(struct uvk_layers *layers);
void uvk_layers_on(struct uvk_layers *layers, uint8_t layer);
uvk_action uvk_layers_cell(const struct uvk_layers *layers, const struct uvk_image *image,
                           uint8_t key);

/* actions.c: ACTION begins with KEY, or ends; FLAGS are UVK_HOLD_ bits. Down answers false
 * when something else has to be done first; ask again with the same. */
bool uvk_action_down(struct uvk_engine *engine, struct uvk_port *port, uint8_t key,
                     uint8_t flags, uvk_action action);
/* ...Up answers the flags of what ended. */
uint8_t uvk_action_up(struct uvk_engine *engine, uint8_t key);
/* The macro of KEY lets go of the latest ACTION that it holds; UVK_NOTHING: of all. */
void uvk_action_let_go(struct uvk_engine *engine, uint8_t key, uvk_action action);
/* What KEY holds, other than by a macro; NULL: nothing. */
const struct uvk_hold *uvk_hold_of(const struct uvk_engine *engine, uint8_t key);
/* Does ACTION switch layers or hold modifiers, and nothing else? */
bool uvk_action_is_shifting(const struct uvk_image *image, uvk_action action);
/* Modifiers that keys of their own hold, or that wait or are toggled: no chord's. */
uint8_t uvk_mods_of_keys(const struct uvk_engine *engine);

/* sticky.c: what outlives its key: toggled and `once` layers and modifiers. */
void uvk_sticky_down(struct uvk_engine *engine, uvk_action action);
void uvk_sticky_up(struct uvk_engine *engine, const struct uvk_hold *hold);
/* HOLD is about to begin: it takes the waiting modifiers along, and ends the waiting. True:
 * something waited; layers among it go off now. */
bool uvk_sticky_take(struct uvk_engine *engine, struct uvk_hold *hold);
/* What waits too long is over; a `once` that is held too long is an ordinary key. Both are
 * measured at the next event, if there is one. True: reports have changed. */
bool uvk_sticky_expire(struct uvk_engine *engine);
/* Add the layers that it keeps on to LAYERS, a bit each. */
void uvk_sticky_keep(const struct uvk_engine *engine, uint8_t *layers);
uint8_t uvk_sticky_mods(const struct uvk_engine *engine, uint8_t mods);
/* Switch off the layers that nothing keeps on, then those that follow from others. */
void uvk_layers_settle(struct uvk_engine *engine);

/* pointer.c: which keys move something has changed; time has passed. */
void uvk_pointer_held(struct uvk_engine *engine, uint8_t point, uint8_t wheel, uint8_t pace);
void uvk_pointer_move(struct uvk_engine *engine);

/* reports.c: what the host should know. Send answers true when nothing is left to send. */
void uvk_reports_update(struct uvk_engine *engine, bool release);
void uvk_reports_point(struct uvk_reports *reports, int8_t x, int8_t y);
void uvk_reports_wheel(struct uvk_reports *reports, enum uvk_wheel direction);
void uvk_reports_protocol(struct uvk_reports *reports, bool boot);
bool uvk_reports_send(struct uvk_reports *reports, struct uvk_port *port);
uint8_t uvk_reports_write(const struct uvk_reports *reports, enum uvk_report report,
                          uint8_t out[UVK_REPORT_MAX]);

/* Are taps counted, or about to be done? */
static inline bool uvk_taps_wait(const struct uvk_engine *engine)
{
#if UVK_USE_HOLDS
    if (engine->pulse.next != 0) {
        return true;
    }
#endif
#if UVK_USE_DANCES
    if (engine->counting.taps != 0) {
        return true;
    }
#endif
    (void)engine;
    return false;
}

#endif
