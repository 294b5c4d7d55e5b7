/* scan.c - read the lines of this half. */
#include "parts.h"
#include "uvrek/port.h"

void uvk_scan(struct uvk_engine *engine, struct uvk_port *port)
{
    bool pressed = false;

    for (uint8_t line = 0; line < uvk_image_lines(&engine->image); line++) {
        pressed |= uvk_line_take(engine, line, uvk_port_read_line(port, line));
    }
    if (pressed && engine->scanned) {
        uvk_port_wake_host(port);
    }
    engine->scanned = true;
}
