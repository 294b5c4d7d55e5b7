/* macros.h - the doors of macros and of what they type.
 *
 * Where a part is not built in, an empty stand-in takes its place: whoever calls it need not
 * ask what was built. The part's own file is empty then. */
#ifndef UVREK_ENGINE_MACROS_H
#define UVREK_ENGINE_MACROS_H

#include "parts.h"

/* ---- macros.c ---------------------------------------------------------------------- */
#if UVK_USE_MACROS
static inline bool uvk_macro_runs(const struct uvk_engine *engine)
{
    return engine->macro.on;
}
/* KEY starts the macro at ROW; KEY comes up: its release part, if it has one. None may be
 * running. */
void uvk_macro_start(struct uvk_engine *engine, uint16_t row, uint8_t key);
void uvk_macro_released(struct uvk_engine *engine, uint16_t row, uint8_t key);
bool uvk_macro_has_release_part(const struct uvk_engine *engine, uint16_t row);
/* One step of the one that runs. */
enum uvk_turn uvk_macro_step(struct uvk_engine *engine, struct uvk_port *port);
/* Does no macro hold anything, and is none in the midst of a character? */
bool uvk_macro_is_between(const struct uvk_engine *engine);
/* What it waits for is over. */
void uvk_macro_hurry(struct uvk_engine *engine);
/* Modifiers that go with all that it presses, of the `once` that waited for its key. */
static inline void uvk_macro_give_mods(struct uvk_engine *engine, uint8_t mods)
{
    engine->macro.mods = mods;
}
static inline uint8_t uvk_macro_mods(const struct uvk_engine *engine)
{
    return engine->macro.mods;
}
/* It holds one thing more, or less. */
static inline void uvk_macro_holds(struct uvk_engine *engine, int8_t more)
{
    engine->macro.held = (uint8_t)(engine->macro.held + more);
}
#else
static inline bool uvk_macro_runs(const struct uvk_engine *engine)
{
    (void)engine;
    return false;
}
static inline void uvk_macro_start(struct uvk_engine *engine, uint16_t row, uint8_t key)
{
    (void)engine;
    (void)row;
    (void)key;
}
static inline void uvk_macro_released(struct uvk_engine *engine, uint16_t row, uint8_t key)
{
    (void)engine;
    (void)row;
    (void)key;
}
static inline bool uvk_macro_has_release_part(const struct uvk_engine *engine, uint16_t row)
{
    (void)engine;
    (void)row;
    return false;
}
static inline enum uvk_turn uvk_macro_step(struct uvk_engine *engine, struct uvk_port *port)
{
    (void)engine;
    (void)port;
    return UVK_TURN_NEXT;
}
static inline bool uvk_macro_is_between(const struct uvk_engine *engine)
{
    (void)engine;
    return true;
}
static inline void uvk_macro_hurry(struct uvk_engine *engine)
{
    (void)engine;
}
static inline void uvk_macro_give_mods(struct uvk_engine *engine, uint8_t mods)
{
    (void)engine;
    (void)mods;
}
static inline uint8_t uvk_macro_mods(const struct uvk_engine *engine)
{
    (void)engine;
    return 0;
}
static inline void uvk_macro_holds(struct uvk_engine *engine, int8_t more)
{
    (void)engine;
    (void)more;
}
#endif

/* ---- type.c: what a macro types ---------------------------------------------------- */
#if UVK_USE_TYPE
/* The text from ROW on, a stroke at a time. Next: it is over. */
enum uvk_turn uvk_type_step(struct uvk_engine *engine, struct uvk_port *port, uint16_t row);
/* Is it in the midst of a character, or does it hold modifiers of its own? */
bool uvk_type_is_midway(const struct uvk_engine *engine);
/* The modifiers that a text has lifted are back, until its next stroke. False: there are
 * none. */
bool uvk_type_unlift(struct uvk_engine *engine);
/* What the host sees of MODS. */
static inline uint8_t uvk_type_mods(const struct uvk_engine *engine, uint8_t mods)
{
    return engine->macro.lifts ? engine->macro.typed : mods;
}
#else
static inline enum uvk_turn uvk_type_step(struct uvk_engine *engine, struct uvk_port *port,
                                          uint16_t row)
{
    (void)engine;
    (void)port;
    (void)row;
    return UVK_TURN_NEXT;
}
static inline bool uvk_type_is_midway(const struct uvk_engine *engine)
{
    (void)engine;
    return false;
}
static inline bool uvk_type_unlift(struct uvk_engine *engine)
{
    (void)engine;
    return false;
}
static inline uint8_t uvk_type_mods(const struct uvk_engine *engine, uint8_t mods)
{
    (void)engine;
    return mods;
}
#endif

#endif
