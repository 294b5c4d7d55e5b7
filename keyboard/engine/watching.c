/* watching.c - what happens in the keyboard, for whoever watches from the desk. */
#include "live.h"

#include <string.h>

#if UVK_USE_LIVE

UVK_ONE_COPY void uvk_watching_set(struct uvk_engine *engine, uint8_t mask)
{
    struct uvk_watching *watching = &engine->door.watching;

    memset(watching, 0, sizeof *watching); /* also, all layers that are on are told anew */
    watching->mask = mask;
    watching->begins = (mask & UVK_WATCH_KEEPS) != 0;
}

/* Room for an event of KIND about KEY, the rest of it zeros; NULL: nobody watches, or there is
 * none. Then the event only takes its number, and what waits has numbers without a gap. */
static uint8_t *tell(struct uvk_engine *engine, uint8_t kind, uint8_t key, uint16_t at)
{
    struct uvk_watching *watching = UVK_NEAR(&engine->door.watching);
    uint8_t *event;

    if ((watching->mask & uvk_bit(kind)) == 0) {
        return NULL;
    }
    if (watching->count == 0) {
        watching->first = watching->number;
    }
    watching->number++;
    watching->lost = watching->count == UVK_EVENTS_KEPT || (watching->lost && watching->count);
    if (watching->lost) {
        return NULL;
    }
    event = watching->events[watching->count++];
    memset(event, 0, UVK_EVENT_BYTES);
    event[0] = kind;
    event[1] = key;
    memcpy(event + 2, &at, sizeof at);
    return event;
}

void uvk_watching_contact(struct uvk_engine *engine, const struct uvk_event *event)
{
    uint8_t *told = tell(engine, UVK_EVENT_CONTACT, event->key, event->at);

    if (told != NULL && event->down) {
        told[0] |= UVK_EVENT_ON;
    }
}

bool uvk_watching_keeps(const struct uvk_engine *engine)
{
    return (engine->door.watching.mask & UVK_WATCH_KEEPS) != 0 &&
           engine->door.consent.seconds < UVK_DOOR_KEEPS_S;
}

void uvk_watching_switch(struct uvk_engine *engine, uint8_t line, uint8_t sense, bool down)
{
    uint8_t *told = tell(engine, UVK_EVENT_SWITCH, line, engine->now);

    if (told != NULL) {
        if (down) {
            told[0] |= UVK_EVENT_ON;
        }
        told[4] = sense;
    }
}

#if UVK_MAX_KNOBS > 0
bool uvk_watching_step(struct uvk_engine *engine, uint8_t key, uint8_t missed)
{
    uint8_t *told = tell(engine, UVK_EVENT_CONTACT, key, engine->now);

    if (told != NULL) {
        told[0] |= UVK_EVENT_ON;
        told[4] = missed;
    }
    return uvk_watching_keeps(engine);
}
#endif

void uvk_watching_decision(struct uvk_engine *engine, const struct uvk_decision *decision)
{
    uint8_t *told = tell(engine, UVK_EVENT_DECISION, decision->key, decision->pressed);

    if (told != NULL) {
        told[4] = decision->reason;
        told[5] = decision->taps != 0 ? decision->taps : decision->cause;
        told[6] = decision->combo;
        memcpy(told + 7, &decision->action, sizeof decision->action);
    }
}

/* ---- layers ----------------------------------------------------------------------------- */

static void tell_layer(struct uvk_engine *engine, uint8_t layer, bool on)
{
    uint8_t *told = tell(engine, UVK_EVENT_LAYERS, layer, engine->now);

    engine->door.watching.told[layer >> 3] ^= uvk_bit(layer);
    if (told != NULL && on) {
        told[0] |= UVK_EVENT_ON;
    }
}

static bool is_told(const struct uvk_engine *engine, uint8_t layer)
{
    return (engine->door.watching.told[layer >> 3] & uvk_bit(layer)) != 0;
}

/* It was down before. */
static void tell_down(struct uvk_engine *engine, uint8_t line, uint8_t sense)
{
    uint8_t key = UVK_USE_PROBE ? UVK_NO_KEY : uvk_image_key_at(&engine->image, line, sense);
    bool spare = key == UVK_NO_KEY;
    uint8_t *told = tell(engine, spare ? UVK_EVENT_SWITCH : UVK_EVENT_CONTACT,
                         spare ? line : key, engine->now);

    if (told != NULL) {
        told[0] |= UVK_EVENT_ON;
        told[4] = spare ? sense : 0;
        told[5] = 1;
    }
}

/* Who begins to keep presses is told of what is down already, before the next scan. */
static void tell_held(struct uvk_engine *engine)
{
    engine->door.watching.begins = false;
    for (uint8_t line = 0; line < uvk_image_lines(&engine->image); line++) {
        uvk_bits down = engine->debounce.down[line];
        for (uint8_t sense = 0; down != 0; sense++, down = (uvk_bits)(down >> 1)) {
            if (down & 1u) {
                tell_down(engine, line, sense);
            }
        }
    }
}

/* One layer in a pass: first those that went off, then those that are on, by their order. */
void uvk_watching_tick(struct uvk_engine *engine)
{
    uint8_t layer = 0;

    if (engine->door.watching.begins) {
        tell_held(engine);
    }
    if ((engine->door.watching.mask & uvk_bit(UVK_EVENT_LAYERS)) == 0) {
        return;
    }
    for (; layer < UVK_MAX_LAYERS; layer++) {
        if (is_told(engine, layer) && !uvk_layers_are_on(&engine->layers, layer)) {
            tell_layer(engine, layer, false);
            return;
        }
    }
    for (uint8_t place = 0; place < engine->layers.count; place++) {
        layer = engine->layers.order[place];
        if (!is_told(engine, layer)) {
            tell_layer(engine, layer, true);
            return;
        }
    }
}

/* ---- reports ---------------------------------------------------------------------------- */

#define EVENTS_AT 4u /* 0, how many, the number of the first */

bool uvk_watching_next(struct uvk_engine *engine, uint8_t out[UVK_DOOR_BYTES])
{
    struct uvk_watching *watching = &engine->door.watching;
    uint8_t count =
        watching->count < UVK_EVENTS_A_REPORT ? watching->count : UVK_EVENTS_A_REPORT;
    uint16_t number = watching->first;

    if (count == 0) {
        return false;
    }
    out[0] = 0;
    out[1] = count;
    memcpy(out + 2, &number, sizeof number);
    memcpy(out + EVENTS_AT, watching->events, UVK_EVENTS_A_REPORT * UVK_EVENT_BYTES);
    watching->first = (uint16_t)(number + count);
    watching->count = (uint8_t)(watching->count - count);
    memmove(watching->events, watching->events[count],
            (size_t)watching->count * UVK_EVENT_BYTES);
    return true;
}

#endif
