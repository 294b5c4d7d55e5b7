/* lit.h - the parts that light up: lights.c, strip.c, lamps.c. Where they are not built in,
 * empty stand-ins take their place. */
#ifndef UVREK_ENGINE_LIT_H
#define UVREK_ENGINE_LIT_H

#include "parts.h"

#if UVK_USE_LIGHTS

#include "uvrek/lights.h"
#include "uvrek/port.h"

/* lights.c: begin, once the image is there; it has changed; a cell; a pass is over. */
void uvk_lights_start(struct uvk_engine *engine);
void uvk_lights_reload(struct uvk_engine *engine);
void uvk_lights_act(struct uvk_engine *engine, uint8_t act);
void uvk_lights_pass(struct uvk_engine *engine, struct uvk_port *port);
/* effects.c: how bright what breathes is at PHASE of its period. */
uint8_t uvk_effect_breath(uint16_t phase);
/* A byte that the main half tells of the lights (lights.h), and one that the other has heard.
 */
uint8_t uvk_lights_tell(const struct uvk_engine *engine, uint8_t index);
void uvk_lights_hear(struct uvk_engine *engine, uint8_t index, uint8_t byte);
/* What the computer has lit, UVK_ASK_SHOWN bytes, or 0: nothing; and that is heard. */
uint8_t uvk_lights_tell_shown(const struct uvk_engine *engine, uint8_t out[UVK_ASK_SHOWN]);
void uvk_lights_hear_shown(struct uvk_engine *engine, const uint8_t *shown, uint8_t size);
/* What the lamps of the other half are to show; HOST: what the host's locks say. */
static inline uint8_t uvk_lights_lit(const struct uvk_engine *engine, uint8_t host)
{
    (void)host;
    return engine->lights.view.lit;
}

#else

static inline void uvk_lights_start(struct uvk_engine *engine)
{
    (void)engine;
}
static inline void uvk_lights_reload(struct uvk_engine *engine)
{
    (void)engine;
}
static inline void uvk_lights_act(struct uvk_engine *engine, uint8_t act)
{
    (void)engine;
    (void)act;
}
static inline void uvk_lights_pass(struct uvk_engine *engine, struct uvk_port *port)
{
    (void)engine;
    (void)port;
}
static inline uint8_t uvk_lights_tell(const struct uvk_engine *engine, uint8_t index)
{
    (void)engine;
    (void)index;
    return 0;
}
static inline void uvk_lights_hear(struct uvk_engine *engine, uint8_t index, uint8_t byte)
{
    (void)engine;
    (void)index;
    (void)byte;
}
static inline uint8_t uvk_lights_tell_shown(const struct uvk_engine *engine,
                                            uint8_t out[UVK_ASK_SHOWN])
{
    (void)engine;
    (void)out;
    return 0;
}
static inline void uvk_lights_hear_shown(struct uvk_engine *engine, const uint8_t *shown,
                                         uint8_t size)
{
    (void)engine;
    (void)shown;
    (void)size;
}
static inline uint8_t uvk_lights_lit(const struct uvk_engine *engine, uint8_t host)
{
    (void)engine;
    return host;
}

#endif

#if UVK_USE_STRIP
/* strip.c: begin; LINE has these contacts closed; one lamp more, as VIEW says, at BRIGHTNESS.
 */
void uvk_strip_start(struct uvk_engine *engine);
void uvk_strip_touch(struct uvk_engine *engine, uint8_t line, uvk_bits closed);
void uvk_strip_step(struct uvk_engine *engine, struct uvk_port *port,
                    const struct uvk_light_view *view, uint8_t brightness);
/* A key that lies above lamp AT was pressed, on either half. */
void uvk_strip_press(struct uvk_engine *engine, uint8_t at);
/* effects.c: the colour of lamp AT, which stands at PLACE. */
struct uvk_colour uvk_effect_colour(const struct uvk_engine *engine, uint8_t effect, uint8_t at,
                                    const struct uvk_strip_lamp *place);
#else
static inline void uvk_strip_start(struct uvk_engine *engine)
{
    (void)engine;
}
static inline void uvk_strip_touch(struct uvk_engine *engine, uint8_t line, uvk_bits closed)
{
    (void)engine;
    (void)line;
    (void)closed;
}
#endif

#endif
