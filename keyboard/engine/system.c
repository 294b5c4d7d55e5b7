/* system.c - the report of sleep, wake, power-off and the microphone, HID usage page 0x01. */
#include "outputs.h"

#if UVK_USE_SYSTEM

/* Of the usages 0x81..0x84 the low three bits count: bits 0 to 3. */
void uvk_system_add(struct uvk_told *told, uint8_t usage)
{
    told->system |= uvk_bit((uint8_t)(usage - 1u));
}

uint8_t uvk_system_write(const struct uvk_told *told, uint8_t out[UVK_REPORT_MAX])
{
    out[0] = UVK_REPORT_SYSTEM;
    out[1] = told->system;
    return 2;
}

#endif
