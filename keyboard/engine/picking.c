/* picking.c - which keys are to be pressed: noise of the chip, mixed. */
#include "crc16.h"
#include "live.h"
#include "uvrek/port.h"

#include <string.h>

#if UVK_USE_LIVE

#define SECOND_MS 1000u

uint8_t uvk_consent_noise(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_consent *consent = &engine->door.consent;

    for (uint8_t i = 0; i < UVK_DOOR_NOISE; i++) {
        consent->noise = uvk_crc16_byte(consent->noise, uvk_port_noise(port));
    }
    return (uint8_t)consent->noise;
}

static bool is_picked(const struct uvk_consent *consent, uint8_t key)
{
    for (uint8_t i = 0; i < UVK_DOOR_KEYS; i++) {
        if (consent->keys[i] == key) {
            return true;
        }
    }
    return false;
}

/* Key number AT: any that has a switch, and none that was picked, if there are more. */
static void pick(struct uvk_engine *engine, struct uvk_port *port, uint8_t at)
{
    struct uvk_consent *consent = &engine->door.consent;
    uint8_t count =
        (uint8_t)(uvk_image_keys(&engine->image) - 2u * uvk_image_knobs(&engine->image));
    uint8_t tries = count;
    uint8_t key = uvk_consent_noise(engine, port);

    while (key >= count) {
        key = (uint8_t)(key - count);
    }
    for (; tries > 0 && is_picked(consent, key); tries--) {
        key++;
        if (key == count) {
            key = 0;
        }
    }
    consent->keys[at] = key;
}

static void pick_all(struct uvk_engine *engine, struct uvk_port *port)
{
    memset(engine->door.consent.keys, UVK_NO_KEY, UVK_DOOR_KEYS);
    for (uint8_t at = 0; at < UVK_DOOR_KEYS; at++) {
        pick(engine, port, at);
    }
    uvk_consent_enter(engine, UVK_DOOR_ASKS);
}

void uvk_consent_tick(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_consent *consent = UVK_NEAR(&engine->door.consent);

    if (consent->state == UVK_DOOR_CLOSED) {
        return;
    }
    if (consent->state == UVK_DOOR_STIRS) {
        pick_all(engine, port);
        return;
    }
    if (consent->skips) { /* the one that is due does not work */
        consent->skips = false;
        pick(engine, port, consent->pressed);
    }
    consent->ms++;
    if (consent->ms < SECOND_MS) {
        return;
    }
    consent->ms = 0;
    consent->seconds++;
    if (consent->state == UVK_DOOR_ASKS && consent->seconds >= UVK_DOOR_ASKS_S) {
        uvk_consent_end(engine, UVK_DOOR_TOO_LATE);
    } else if (consent->seconds >= UVK_DOOR_OPEN_S) {
        uvk_consent_close(engine);
    }
}

#endif
