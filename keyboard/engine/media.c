/* media.c - the report of media keys, HID usage page 0x0C. */
#include "outputs.h"

#if UVK_USE_CONSUMER

/* Two keys with the same usage are one. */
void uvk_media_add(struct uvk_told *told, uint16_t usage)
{
    for (uint8_t i = 0; i < UVK_CONSUMER_SLOTS; i++) {
        if (told->consumer[i] == 0 || told->consumer[i] == usage) {
            told->consumer[i] = usage;
            return;
        }
    }
}

uint8_t uvk_media_write(const struct uvk_told *told, uint8_t out[UVK_REPORT_MAX])
{
    out[0] = UVK_REPORT_CONSUMER;
    for (uint8_t i = 0; i < UVK_CONSUMER_SLOTS; i++) {
        out[1 + 2 * i] = (uint8_t)(told->consumer[i] & 0xFFu);
        out[2 + 2 * i] = (uint8_t)(told->consumer[i] >> 8);
    }
    return 1 + 2 * UVK_CONSUMER_SLOTS;
}

#endif
