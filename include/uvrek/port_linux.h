/* port_linux.h - the port whose hardware is another program's: the bench's, or yours.
 *
 * 1. A struct uvk_port is one keyboard's hardware; a process may have many.
 * 2. The pins are functions that the owner gives. The rest is state that the owner sets
 *    (time, protocol, lamps) or looks at (wishes).
 * 3. Each interface has one buffer. A report stays in it until the owner takes it, as an
 *    interrupt endpoint does until the host polls.
 */
#ifndef UVREK_PORT_LINUX_H
#define UVREK_PORT_LINUX_H

#include "uvrek/port.h"

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_endpoint {
    uint8_t size; /* 0: empty */
    uint8_t report[UVK_REPORT_MAX];
};

struct uvk_port {
    uvk_bits (*read_line)(void *owner, uint8_t line); /* as uvk_port_read_line */
    uint8_t (*read_knob)(void *owner, uint8_t knob);  /* as uvk_port_read_knob; NULL: none */
    void *owner;
    /* of one half of two: as uvk_port_link_send and uvk_port_link_take; NULL: there is no link
     */
    void (*link_send)(void *link, const uint8_t *bytes, uint8_t size);
    bool (*link_take)(void *link, uint8_t *byte);
    void *link;
    /* what outlives the power: both banks, the owner's; NULL: nothing does */
    uint8_t *memory;
    uint32_t time_us;
    uint32_t noise;     /* where its noise begins: that is foreseeable here, as all else is */
    bool configured;    /* a host has set the keyboard up: reports are taken */
    bool boot_protocol; /* of interface 0 */
    uint8_t lamps;
    bool host_sleeps;
    /* what lights up, as the engine has sent it; the strip's colours are scaled */
    uint8_t backlight;
    uint8_t lit; /* a bit for each lamp with a pin of its own */
    uint8_t strip[3u * UVK_STRIP_MAX];
    uint8_t strip_count;
    uint32_t strip_frames; /* how often it was sent */
    struct uvk_endpoint endpoints[UVK_INTERFACES];
    /* the owner answers and clears */
    bool wants_restart, wants_to_forget, wants_bootloader, wants_wake;
};

#ifdef __cplusplus
}
#endif

#endif
