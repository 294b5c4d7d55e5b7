/* port.c - the engine's hardware, provided by the program that owns the port. */
#include "uvrek/port_linux.h"

#include "uvrek/lights.h"

#include <string.h>

uint32_t uvk_port_time(struct uvk_port *port)
{
    return port->time_us;
}

uvk_bits uvk_port_read_line(struct uvk_port *port, uint8_t line)
{
    return port->read_line(port->owner, line);
}

uint8_t uvk_port_read_knob(struct uvk_port *port, uint8_t knob)
{
    return port->read_knob != NULL ? port->read_knob(port->owner, knob) : 0;
}

bool uvk_port_send(struct uvk_port *port, uint8_t interface, const uint8_t *report,
                   uint8_t size)
{
    struct uvk_endpoint *endpoint = &port->endpoints[interface];

    if (!port->configured || endpoint->size != 0) {
        return false;
    }
    memcpy(endpoint->report, report, size);
    endpoint->size = size;
    return true;
}

bool uvk_port_boot_protocol(struct uvk_port *port)
{
    return port->boot_protocol;
}

uint8_t uvk_port_lamps(struct uvk_port *port)
{
    return port->lamps;
}

void uvk_port_wake_host(struct uvk_port *port)
{
    port->wants_wake = true;
}

void uvk_port_restart(struct uvk_port *port, bool forget)
{
    port->wants_restart = true;
    port->wants_to_forget = forget;
}

void uvk_port_enter_bootloader(struct uvk_port *port)
{
    port->wants_bootloader = true;
}

bool uvk_port_host_sleeps(struct uvk_port *port)
{
    return port->host_sleeps;
}

void uvk_port_backlight(struct uvk_port *port, uint8_t brightness)
{
    port->backlight = brightness;
}

bool uvk_port_strip_ready(struct uvk_port *port)
{
    (void)port;
    return true;
}

void uvk_port_strip_send(struct uvk_port *port, const uint8_t *colours, uint8_t count,
                         uint8_t scale)
{
    for (uint16_t i = 0; i < 3u * count; i++) {
        port->strip[i] = uvk_light_scaled(colours[i], scale);
    }
    port->strip_count = count;
    port->strip_frames++;
}

void uvk_port_lamps_light(struct uvk_port *port, uint8_t lit)
{
    port->lit = lit;
}

/* xorshift (George Marsaglia, 2003): 0 would stay 0. */
uint8_t uvk_port_noise(struct uvk_port *port)
{
    port->noise = port->noise != 0 ? port->noise : 1;
    port->noise ^= port->noise << 13;
    port->noise ^= port->noise >> 17;
    port->noise ^= port->noise << 5;
    return (uint8_t)(port->noise >> 8);
}

void uvk_port_link_send(struct uvk_port *port, const uint8_t *bytes, uint8_t size)
{
    if (port->link_send != NULL) {
        port->link_send(port->link, bytes, size);
    }
}

bool uvk_port_link_take(struct uvk_port *port, uint8_t *byte)
{
    return port->link_take != NULL && port->link_take(port->link, byte);
}

uint8_t uvk_port_memory_read(struct uvk_port *port, uint16_t at)
{
    return port->memory != NULL ? port->memory[at] : 0xFFu;
}

bool uvk_port_memory_ready(struct uvk_port *port)
{
    return port->memory != NULL;
}

void uvk_port_memory_write(struct uvk_port *port, uint16_t at, const uint8_t *bytes,
                           uint8_t size)
{
    memcpy(port->memory + at, bytes, size);
}

void uvk_port_memory_erase(struct uvk_port *port, uint16_t at)
{
    memset(port->memory + at, 0xFF, UVK_ERASE_BYTES);
}
