/* own_port.c - a port of one's own, in one file: two keys, no operating system needed.
 *
 *   build/example_own_port
 *
 * The engine is linked with the functions below and nothing else of Uvrek. The "hardware"
 * is two variables; on a chip they would be registers. */
#include "uvrek/port.h"

#include <stdio.h>
#include <string.h>

/* A board of one line with two switches, and one layer: a, b. Made by
 * `example_check_and_lower`; a firmware has it in its flash. */
static const UVK_ROM uint8_t keymap[] = {
    'U', 'V', 'K', 'I', 4,   20, 124, 0, 196, 166, 243, 33, 2,   1, 1,   2, 0,   0,
    0,   0,   2,   0,   100, 0,  9,   0, 102, 0,   2,   0,  120, 0, 0,   0, 124, 0,
    0,   0,   124, 0,   0,   0,  124, 0, 0,   0,   124, 0,  0,   0, 124, 0, 0,   0,
    124, 0,   0,   0,   124, 0,  0,   0, 124, 0,   0,   0,  124, 0, 0,   0, 124, 0,
    0,   0,   124, 0,   0,   0,  124, 0, 0,   0,   124, 0,  0,   0, 124, 0, 0,   0,
    124, 0,   0,   0,   124, 0,  0,   0, 124, 0,   0,   1,  5,   0, 232, 3, 232, 3,
    32,  3,   144, 1,   10,  0,  0,   0, 0,   0,   1,   0,  2,   4, 2,   5,
};

/* The whole hardware. */
struct uvk_port {
    uint32_t time_us;
    uint8_t closed; /* bit 0: the first switch, bit 1: the second */
    bool wants_restart, wants_bootloader;
};

uint32_t uvk_port_time(struct uvk_port *port)
{
    return port->time_us;
}

uvk_bits uvk_port_read_line(struct uvk_port *port, uint8_t line)
{
    (void)line; /* there is only one */
    return port->closed;
}

/* There are no knobs. */
uint8_t uvk_port_read_knob(struct uvk_port *port, uint8_t knob)
{
    (void)port;
    (void)knob;
    return 0;
}

/* Instead of sending it to a host, print it. */
bool uvk_port_send(struct uvk_port *port, uint8_t interface, const uint8_t *report,
                   uint8_t size)
{
    printf("%5lu us  interface %u:", (unsigned long)port->time_us, interface);
    for (uint8_t i = 0; i < size && i < 6; i++) {
        printf(" %02X", report[i]);
    }
    puts(size > 6 ? " ..." : "");
    return true;
}

bool uvk_port_boot_protocol(struct uvk_port *port)
{
    (void)port;
    return false;
}

uint8_t uvk_port_lamps(struct uvk_port *port)
{
    (void)port;
    return 0;
}

void uvk_port_wake_host(struct uvk_port *port)
{
    (void)port;
}

/* Nothing lights up. */
bool uvk_port_host_sleeps(struct uvk_port *port)
{
    (void)port;
    return false;
}

void uvk_port_backlight(struct uvk_port *port, uint8_t brightness)
{
    (void)port;
    (void)brightness;
}

bool uvk_port_strip_ready(struct uvk_port *port)
{
    (void)port;
    return false;
}

void uvk_port_strip_send(struct uvk_port *port, const uint8_t *colours, uint8_t count,
                         uint8_t scale)
{
    (void)port;
    (void)colours;
    (void)count;
    (void)scale;
}

void uvk_port_lamps_light(struct uvk_port *port, uint8_t lit)
{
    (void)port;
    (void)lit;
}

void uvk_port_restart(struct uvk_port *port, bool forget)
{
    (void)forget; /* this one keeps nothing */
    port->wants_restart = true;
}

void uvk_port_enter_bootloader(struct uvk_port *port)
{
    port->wants_bootloader = true;
}

/* The main loop of a firmware: a pass each millisecond. */
static void run(struct uvk_engine *engine, struct uvk_port *port, unsigned milliseconds)
{
    while (milliseconds-- > 0) {
        port->time_us += 1000;
        uvk_engine_pass(engine, port, uvk_port_time(port));
    }
}

int main(void)
{
    static struct uvk_engine engine;
    struct uvk_port port = {0};
    enum uvk_status status = uvk_engine_start(&engine, sizeof engine, keymap, sizeof keymap, 0);

    if (status != UVK_OK) {
        printf("the keymap was refused: %d\n", (int)status);
        return 1;
    }
    run(&engine, &port, 1);
    port.closed = 1; /* the first key goes down */
    run(&engine, &port, 30);
    port.closed = 3; /* the second, while the first is held */
    run(&engine, &port, 30);
    port.closed = 0; /* both come up */
    run(&engine, &port, 30);
    return uvk_engine_idle(&engine) ? 0 : 1;
}
