/* ask.c - consent is asked for. */
#include "live.h"

#include <string.h>

bool uvk_live_ask(struct uvk_live *live, GError **error)
{
    return talk(live, UVK_DOOR_OPEN, NULL, 0, NULL, error);
}

bool uvk_live_asked(struct uvk_live *live, struct uvk_live_asking *asking, GError **error)
{
    uint8_t told[UVK_DOOR_CONTENT];

    if (!talk(live, UVK_DOOR_ASKED, NULL, 0, told, error)) {
        return false;
    }
    asking->state = (enum uvk_door_state)told[0];
    asking->ended = (enum uvk_door_ended)told[1];
    asking->pressed = MIN(told[2], UVK_DOOR_KEYS);
    memcpy(asking->keys, told + 3, UVK_DOOR_KEYS);
    asking->seconds = told[3 + UVK_DOOR_KEYS];
    return true;
}

bool uvk_live_skip(struct uvk_live *live, GError **error)
{
    return talk(live, UVK_DOOR_SKIP, NULL, 0, NULL, error);
}

bool uvk_live_shut(struct uvk_live *live, GError **error)
{
    return talk(live, UVK_DOOR_CLOSE, NULL, 0, NULL, error);
}

bool uvk_live_restart(struct uvk_live *live, bool bootloader, GError **error)
{
    return talk(live, bootloader ? UVK_DOOR_BOOTLOADER : UVK_DOOR_RESTART, NULL, 0, NULL,
                error);
}
