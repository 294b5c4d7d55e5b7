/* outputs.h - the doors of what outlives its key, and of the reports that not every
 * keyboard has.
 *
 * Where a part is not built in, an empty stand-in takes its place: whoever calls it need not
 * ask what was built. The part's own file is empty then. */
#ifndef UVREK_ENGINE_OUTPUTS_H
#define UVREK_ENGINE_OUTPUTS_H

#include "parts.h"

/* ---- sticky.c: what outlives its key: toggled and `once` layers and modifiers ------ */
#if UVK_USE_STICKY
void uvk_sticky_down(struct uvk_engine *engine, uvk_action action);
void uvk_sticky_up(struct uvk_engine *engine, const struct uvk_hold *hold);
/* HOLD is about to begin: it takes the waiting modifiers along, and ends the waiting. True:
 * something waited; layers among it go off now. */
bool uvk_sticky_take(struct uvk_engine *engine, struct uvk_hold *hold);
/* A `once` that is held too long is an ordinary key, measured at the next event, if there is
 * one. True: what the host is told has changed. */
bool uvk_sticky_wear(struct uvk_engine *engine);
/* What waits too long is over, measured in the same way. True: layers go off. */
bool uvk_sticky_expire(struct uvk_engine *engine);
/* Add the layers that it keeps on to LAYERS, a bit each. */
void uvk_sticky_keep(const struct uvk_engine *engine, uint8_t *layers);
/* MODS with those that stay down, without those that are kept from the host. */
uint8_t uvk_sticky_mods(const struct uvk_engine *engine, uint8_t mods);
/* Modifiers that wait for a key. */
static inline uint8_t uvk_sticky_waiting(const struct uvk_engine *engine)
{
    return engine->sticky.mods;
}
#else
static inline void uvk_sticky_down(struct uvk_engine *engine, uvk_action action)
{
    (void)engine;
    (void)action;
}
static inline void uvk_sticky_up(struct uvk_engine *engine, const struct uvk_hold *hold)
{
    (void)engine;
    (void)hold;
}
static inline bool uvk_sticky_take(struct uvk_engine *engine, struct uvk_hold *hold)
{
    (void)engine;
    (void)hold;
    return false;
}
static inline bool uvk_sticky_wear(struct uvk_engine *engine)
{
    (void)engine;
    return false;
}
static inline bool uvk_sticky_expire(struct uvk_engine *engine)
{
    (void)engine;
    return false;
}
static inline void uvk_sticky_keep(const struct uvk_engine *engine, uint8_t *layers)
{
    (void)engine;
    (void)layers;
}
static inline uint8_t uvk_sticky_mods(const struct uvk_engine *engine, uint8_t mods)
{
    (void)engine;
    return mods;
}
static inline uint8_t uvk_sticky_waiting(const struct uvk_engine *engine)
{
    (void)engine;
    return 0;
}
#endif

/* ---- blocks.c: keys that are kept from the host ------------------------------------ */
#if UVK_USE_BLOCKS
void uvk_blocks_flip(struct uvk_engine *engine, uint8_t usage);
void uvk_blocks_apply(const struct uvk_engine *engine, uint8_t bitmap[UVK_BITMAP_BYTES]);
#else
static inline void uvk_blocks_flip(struct uvk_engine *engine, uint8_t usage)
{
    (void)engine;
    (void)usage;
}
static inline void uvk_blocks_apply(const struct uvk_engine *engine,
                                    uint8_t bitmap[UVK_BITMAP_BYTES])
{
    (void)engine;
    (void)bitmap;
}
#endif

/* ---- media.c, system.c: the media report, and that of sleep and power -------------- */
#if UVK_USE_CONSUMER
void uvk_media_add(struct uvk_told *told, uint16_t usage);
uint8_t uvk_media_write(const struct uvk_told *told, uint8_t out[UVK_REPORT_MAX]);
#else
static inline void uvk_media_add(struct uvk_told *told, uint16_t usage)
{
    (void)told;
    (void)usage;
}
static inline uint8_t uvk_media_write(const struct uvk_told *told, uint8_t out[UVK_REPORT_MAX])
{
    (void)told;
    (void)out;
    return 0;
}
#endif

#if UVK_USE_SYSTEM
void uvk_system_add(struct uvk_told *told, uint8_t usage);
uint8_t uvk_system_write(const struct uvk_told *told, uint8_t out[UVK_REPORT_MAX]);
#else
static inline void uvk_system_add(struct uvk_told *told, uint8_t usage)
{
    (void)told;
    (void)usage;
}
static inline uint8_t uvk_system_write(const struct uvk_told *told, uint8_t out[UVK_REPORT_MAX])
{
    (void)told;
    (void)out;
    return 0;
}
#endif

/* ---- mouse.c: buttons and wheels, and the report ----------------------------------- */
#define UVK_MOUSE_AT_X 2u /* x and y stand there in the report */
#if UVK_USE_MOUSE
void uvk_mouse_add(struct uvk_told *told, uint8_t button);
void uvk_mouse_wheel(struct uvk_reports *reports, enum uvk_wheel way);
/* Without movement, see uvk_pointer_write. */
uint8_t uvk_mouse_write(const struct uvk_reports *reports, uint8_t out[UVK_REPORT_MAX]);
/* The report is out: what moved has been told. */
void uvk_mouse_sent(struct uvk_reports *reports);
#else
static inline void uvk_mouse_add(struct uvk_told *told, uint8_t button)
{
    (void)told;
    (void)button;
}
static inline void uvk_mouse_wheel(struct uvk_reports *reports, enum uvk_wheel way)
{
    (void)reports;
    (void)way;
}
static inline uint8_t uvk_mouse_write(const struct uvk_reports *reports,
                                      uint8_t out[UVK_REPORT_MAX])
{
    (void)reports;
    (void)out;
    return 0;
}
static inline void uvk_mouse_sent(struct uvk_reports *reports)
{
    (void)reports;
}
#endif

/* ---- pointer.c: keys that move the pointer, or the wheel while they are down ------- */
/* The ways that held keys go: bits by enum uvk_wheel, of PACE by enum uvk_pace. */
struct uvk_ways {
    uint8_t point, wheel, pace;
};
#if UVK_USE_POINTER
void uvk_pointer_add(struct uvk_ways *ways, uvk_action action);
/* Which keys move something has changed; time has passed. */
void uvk_pointer_held(struct uvk_engine *engine, const struct uvk_ways *ways);
void uvk_pointer_move(struct uvk_engine *engine);
/* What it has moved: x and y of the mouse report. */
void uvk_pointer_write(const struct uvk_reports *reports, uint8_t out[2]);
/* The report is out. */
void uvk_pointer_sent(struct uvk_reports *reports);
#else
static inline void uvk_pointer_add(struct uvk_ways *ways, uvk_action action)
{
    (void)ways;
    (void)action;
}
static inline void uvk_pointer_held(struct uvk_engine *engine, const struct uvk_ways *ways)
{
    (void)engine;
    (void)ways;
}
static inline void uvk_pointer_move(struct uvk_engine *engine)
{
    (void)engine;
}
static inline void uvk_pointer_write(const struct uvk_reports *reports, uint8_t out[2])
{
    (void)reports;
    (void)out;
}
static inline void uvk_pointer_sent(struct uvk_reports *reports)
{
    (void)reports;
}
#endif

#endif
