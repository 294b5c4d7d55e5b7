/* live.h - the live door's parts, and what they ask of one another. */
#ifndef UVREK_ENGINE_LIVE_H
#define UVREK_ENGINE_LIVE_H

#include "parts.h"

#if UVK_USE_LIVE

/* consent.c: begin to ask, close; a new state; no consent was given, and WHY. */
void uvk_consent_ask(struct uvk_engine *engine);
void uvk_consent_close(struct uvk_engine *engine);
void uvk_consent_enter(struct uvk_engine *engine, enum uvk_door_state state);
void uvk_consent_end(struct uvk_engine *engine, enum uvk_door_ended why);
/* Is this event for whoever asks, and for nobody else? */
bool uvk_consent_takes(struct uvk_engine *engine, const struct uvk_event *event);

/* picking.c: a millisecond has passed; a byte of noise that is mixed from many. */
void uvk_consent_tick(struct uvk_engine *engine, struct uvk_port *port);
uint8_t uvk_consent_noise(struct uvk_engine *engine, struct uvk_port *port);

/* staging.c: what is kept takes effect at the start. */
void uvk_staging_start(struct uvk_engine *engine, struct uvk_port *port);
/* COUNT bytes into the room, AT. And: take what is staged, as HEAD says (UVK_CHANGES_HEAD bytes
 * as they are kept). */
enum uvk_door_answer uvk_staging_write(struct uvk_engine *engine, uint16_t at,
                                       const uint8_t *bytes, uint8_t count);
enum uvk_door_answer uvk_staging_take(struct uvk_engine *engine, const uint8_t *head);
/* As if no changes had been sent. */
void uvk_staging_forget(struct uvk_engine *engine);
void uvk_staging_tick(struct uvk_engine *engine);
/* A little of what can be done at any time; false: there is nothing. */
bool uvk_staging_spare(struct uvk_engine *engine);
/* Is what is in force in the journal? */
bool uvk_staging_is_kept(const struct uvk_engine *engine);

/* watching.c: tell of MASK from now on; what happens; the next events as a report. */
void uvk_watching_set(struct uvk_engine *engine, uint8_t mask);
void uvk_watching_contact(struct uvk_engine *engine, const struct uvk_event *event);
void uvk_watching_decision(struct uvk_engine *engine, const struct uvk_decision *decision);
/* Are presses only told? Switch SENSE of LINE, where no key is; a step of a knob that has a key
 * of its own, MISSED changes of phase too fast. True: that is all that is to be done about it.
 */
bool uvk_watching_keeps(const struct uvk_engine *engine);
void uvk_watching_switch(struct uvk_engine *engine, uint8_t line, uint8_t sense, bool down);
bool uvk_watching_step(struct uvk_engine *engine, uint8_t key, uint8_t missed);
void uvk_watching_tick(struct uvk_engine *engine);
bool uvk_watching_next(struct uvk_engine *engine, uint8_t out[UVK_DOOR_BYTES]);

#else

static inline bool uvk_consent_takes(struct uvk_engine *engine, const struct uvk_event *event)
{
    (void)engine;
    (void)event;
    return false;
}
static inline void uvk_watching_contact(struct uvk_engine *engine,
                                        const struct uvk_event *event)
{
    (void)engine;
    (void)event;
}
static inline bool uvk_watching_keeps(const struct uvk_engine *engine)
{
    (void)engine;
    return false;
}
static inline void uvk_watching_switch(struct uvk_engine *engine, uint8_t line, uint8_t sense,
                                       bool down)
{
    (void)engine;
    (void)line;
    (void)sense;
    (void)down;
}
static inline void uvk_watching_decision(struct uvk_engine *engine,
                                         const struct uvk_decision *decision)
{
    (void)engine;
    (void)decision;
}

#endif

#endif
