/* consent.c - the keyboard asks for three of its keys to be pressed before the door opens. */
#include "live.h"

#if UVK_USE_LIVE

UVK_ONE_COPY void uvk_consent_enter(struct uvk_engine *engine, enum uvk_door_state state)
{
    struct uvk_consent *consent = UVK_NEAR(&engine->door.consent);

    consent->state = (uint8_t)state;
    consent->seconds = 0;
    consent->ms = 0;
}

void uvk_consent_ask(struct uvk_engine *engine)
{
    struct uvk_consent *consent = &engine->door.consent;

    uvk_consent_enter(engine, UVK_DOOR_STIRS);
    consent->pressed = 0;
    consent->skips = false;
    consent->ended = UVK_DOOR_NOT_ASKED;
}

void uvk_consent_close(struct uvk_engine *engine)
{
    uvk_consent_enter(engine, UVK_DOOR_CLOSED);
    uvk_watching_set(engine, 0);
}

void uvk_consent_end(struct uvk_engine *engine, enum uvk_door_ended why)
{
    engine->door.consent.ended = (uint8_t)why;
    uvk_consent_close(engine);
}

#define FREE 0u

/* What stands for KEY among those that are down. */
static uint8_t mark_of(uint8_t key)
{
    return (uint8_t)(key + 1u);
}

/* The place of MARK among those that are down, or a FREE one. */
static uint8_t place_of(const struct uvk_consent *consent, uint8_t mark)
{
    uint8_t place = 0;

    while (place < UVK_DOOR_TOGETHER && consent->down[place] != mark) {
        place++;
    }
    return place;
}

/* A key goes down while it asks. */
static void take_press(struct uvk_engine *engine, uint8_t key)
{
    struct uvk_consent *consent = &engine->door.consent;
    uint8_t place = place_of(consent, FREE);

    if (place < UVK_DOOR_TOGETHER) {
        consent->down[place] = mark_of(key);
    }
    if (place == UVK_DOOR_TOGETHER || key != consent->keys[consent->pressed]) {
        uvk_consent_end(engine, UVK_DOOR_WRONG_KEY);
        return;
    }
    consent->pressed++;
    if (consent->pressed == UVK_DOOR_KEYS) {
        uvk_consent_enter(engine, UVK_DOOR_IS_OPEN);
    }
}

/* The release of a key that went down before it asked is as always. */
bool uvk_consent_takes(struct uvk_engine *engine, const struct uvk_event *event)
{
    struct uvk_consent *consent = &engine->door.consent;
    uint8_t place;

    if (event->down) {
        if (consent->state != UVK_DOOR_ASKS) {
            return false;
        }
        take_press(engine, event->key);
        return true;
    }
    place = place_of(consent, mark_of(event->key));
    if (place == UVK_DOOR_TOGETHER) {
        return false;
    }
    consent->down[place] = FREE;
    return true;
}

#endif
