/* scan.c - read the lines of this half, and those that the other one has told. */
#include "parts.h"
#include "uvrek/half.h"
#include "uvrek/port.h"

#if !UVK_USE_PROBE

/* Lines of the other half come over the link. */
static uvk_bits read_line(const struct uvk_engine *engine, struct uvk_port *port, uint8_t line)
{
#if UVK_USE_LINK
    if (!uvk_half_has_line(engine, line)) {
        return engine->pair.contacts[line];
    }
#else
    (void)engine;
#endif
    return uvk_port_read_line(port, line);
}

void uvk_scan(struct uvk_engine *engine, struct uvk_port *port)
{
    bool pressed = false;

    for (uint8_t line = 0; line < uvk_image_lines(&engine->image); line++) {
        pressed |= uvk_line_take(engine, line, read_line(engine, port, line));
    }
    if (pressed && engine->scanned) {
        uvk_port_wake_host(port);
    }
    engine->scanned = true;
}

#endif
