/* parts.h - the doors between the parts of a scan pass that every keyboard has, in the order
 * of the pass. Each part is the file of its name; those that may not be built in: deciding.h,
 * macros.h, outputs.h. */
#ifndef UVREK_ENGINE_PARTS_H
#define UVREK_ENGINE_PARTS_H

#include "uvrek/engine.h"

/* What a part answers that looks at what comes next. */
enum uvk_turn {
    UVK_TURN_NEXT, /* it has nothing to do with it: the next part looks */
    UVK_TURN_WAIT, /* it is too early to say, or something has to end first */
    UVK_TURN_DONE  /* the part has done something: that was the step of this pass */
};

/* engine.c: it is NOW_US; the settings as its image has them. */
void uvk_engine_clock(struct uvk_engine *engine, uint32_t now_us);
void uvk_settings_read(struct uvk_engine *engine);

/* ---- contacts become events ----------------------------------------------------------- */

/* scan.c: read every line of this half. */
void uvk_scan(struct uvk_engine *engine, struct uvk_port *port);

/* lines.c: the contacts of LINE, wherever they were read: debounced; what has changed goes
 * into the queue. True: something was pressed. */
bool uvk_line_take(struct uvk_engine *engine, uint8_t line, uvk_bits closed);

#if UVK_USE_LINK && UVK_MAX_KNOBS > 0
/* knobs.c: a knob whose steps are told to the other half: -1, 0 or 1; and steps that the other
 * half has told. */
int8_t uvk_knob_step(struct uvk_engine *engine, struct uvk_port *port, uint8_t knob);
void uvk_knob_owe(struct uvk_engine *engine, uint8_t knob, int8_t steps);
#endif

/* debounce.c: the bits of LINE whose believed state should flip now: to up after WINDOW, to
 * down after PRESS, in ms. A flip that is not accepted is offered again at the next pass. */
uvk_bits uvk_debounce_line(struct uvk_debounce *debounce, uint8_t line, uint8_t senses,
                           uvk_bits closed, uint16_t now, uint8_t window, uint8_t press);
void uvk_debounce_accept(struct uvk_debounce *debounce, uint8_t line, uvk_bits bit);

/* ---- events wait ---------------------------------------------------------------------- */

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

/* A bit by its number, modulo 8: a small chip shifts one place at a time. */
static inline uint8_t uvk_bit(uint8_t number)
{
    extern const UVK_ROM uint8_t uvk_bits_of_a_byte[8]; /* queue.c */

    return uvk_bits_of_a_byte[number & 7u];
}

/* ---- what the first press means ------------------------------------------------------- */

/* front.c: of what closed in the same scan as the first event, a press, modifiers and layer
 * keys come first. Asked once. */
void uvk_front_order(struct uvk_engine *engine);
/* The first press does WORD, for REASON (enum uvk_reason), after so many TAPS of a dance. */
void uvk_front_say(struct uvk_engine *engine, uvk_action word, uint8_t reason, uint8_t taps);
/* What the first event, a press, means: what has been said, else its cell. */
struct uvk_decision uvk_front_read(struct uvk_engine *engine);
/* The first event, a press, is worked out and leaves the queue. */
void uvk_front_drop(struct uvk_engine *engine);

/* ---- what it does --------------------------------------------------------------------- */

/* perform.c: the first event, a press or a release, is worked out. */
enum uvk_turn uvk_press_turn(struct uvk_engine *engine, struct uvk_port *port);
enum uvk_turn uvk_release_turn(struct uvk_engine *engine);
/* EVENT, a release, is worked out, wherever it stands in the queue. */
void uvk_release(struct uvk_engine *engine, const struct uvk_event *event);

/* layers.c: which are on, and what a key means on them. Switching on what is on changes
 * nothing; layer 0 never goes off. */
void uvk_layers_reset(struct uvk_layers *layers);
void uvk_layers_on(struct uvk_layers *layers, uint8_t layer);
void uvk_layers_off(struct uvk_layers *layers, uint8_t place);
bool uvk_layers_are_on(const struct uvk_layers *layers, uint8_t layer);
uvk_action uvk_layers_cell(const struct uvk_layers *layers, const struct uvk_image *image,
                           uint8_t key);

/* settle.c: switch off the layers that nothing keeps on, then those that follow from others. */
void uvk_layers_settle(struct uvk_engine *engine);

/* actions.c: ACTION begins with KEY; FLAGS are UVK_HOLD_ bits. Anything but UVK_TURN_NEXT:
 * something else had to be done first; ask again with the same. */
enum uvk_turn uvk_action_down(struct uvk_engine *engine, struct uvk_port *port, uint8_t key,
                              uint8_t flags, uvk_action action);
/* What KEY holds, other than by a macro, ends, and is answered; its key is UVK_NO_KEY if
 * nothing did. */
struct uvk_hold uvk_action_up(struct uvk_engine *engine, uint8_t key);
/* The macro of KEY lets go of the latest ACTION that it holds; UVK_NOTHING: of all. */
void uvk_action_let_go(struct uvk_engine *engine, uint8_t key, uvk_action action);

/* devices.c: what a DEVICE action does once, at the press. */
void uvk_device_down(struct uvk_engine *engine, struct uvk_port *port, uvk_action action);

/* chords.c: a cell without its modifiers: those go into *MODS, as bits of a report. */
uvk_action uvk_chord_resolve(const struct uvk_image *image, uvk_action cell, uint8_t *mods);
/* Does ACTION switch layers or hold modifiers, and nothing else? */
bool uvk_action_is_shifting(const struct uvk_image *image, uvk_action action);
/* A key of the host's keyboard, as opposed to modifiers alone. */
static inline bool uvk_action_is_typed(uvk_action action)
{
    return uvk_action_kind(action) == UVK_KEY && uvk_action_what(action) >= UVK_USAGE_FIRST;
}

/* holds.c: what keys hold, in the order of pressing. What KEY holds, other than by a macro;
 * NULL: nothing. */
const struct uvk_hold *uvk_hold_of(const struct uvk_engine *engine, uint8_t key);
/* The same, taken out; its key is UVK_NO_KEY if there was none. */
struct uvk_hold uvk_hold_take(struct uvk_holds *holds, uint8_t key);
void uvk_hold_remove(struct uvk_holds *holds, uint8_t index);

/* ---- what the host is told ------------------------------------------------------------ */

/* told.c: add up what is held. RELEASE: the change was one. */
void uvk_told_update(struct uvk_engine *engine, bool release);

/* reports.c: what the host should know. Send answers true when nothing is left to send. */
void uvk_reports_take(struct uvk_reports *reports, const struct uvk_told *told, bool release);
void uvk_reports_protocol(struct uvk_reports *reports, bool boot);
bool uvk_reports_send(struct uvk_reports *reports, struct uvk_port *port);
uint8_t uvk_reports_write(const struct uvk_reports *reports, enum uvk_report report,
                          uint8_t out[UVK_REPORT_MAX]);
static inline void uvk_reports_mark(struct uvk_reports *reports, enum uvk_report report)
{
    reports->dirty = (uint8_t)(reports->dirty | (1u << report));
}

#endif
