/* mouse.c - the report of the mouse: buttons, movement, wheels. */
#include "outputs.h"

#if UVK_USE_MOUSE

void uvk_mouse_add(struct uvk_told *told, uint8_t button)
{
    told->buttons |= uvk_bit((uint8_t)(button - 1u));
}

UVK_ONE_COPY void uvk_mouse_wheel(struct uvk_reports *reports, enum uvk_wheel way)
{
    static const UVK_ROM int8_t steps[4][2] = {{1, 0}, {-1, 0}, {0, -1}, {0, 1}};

    reports->wheel = (int8_t)(reports->wheel + steps[way][0]);
    reports->pan = (int8_t)(reports->pan + steps[way][1]);
    uvk_reports_mark(reports, UVK_REPORT_MOUSE);
}

uint8_t uvk_mouse_write(const struct uvk_reports *reports, uint8_t out[UVK_REPORT_MAX])
{
    out[0] = UVK_REPORT_MOUSE;
    out[1] = reports->told.buttons;
    out[2] = 0;
    out[3] = 0;
    out[4] = (uint8_t)reports->wheel;
    out[5] = (uint8_t)reports->pan;
    return 6;
}

void uvk_mouse_sent(struct uvk_reports *reports)
{
    reports->wheel = 0;
    reports->pan = 0;
}

#endif
