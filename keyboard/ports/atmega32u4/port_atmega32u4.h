/* port_atmega32u4.h - the rooms of this port.
 *
 * 1. Everything runs in the main loop. Interrupts count milliseconds and wake the chip;
 *    they share nothing else with it, so there are no races to think of.
 * 2. The pins, the USB names and the sizes come from the configuration header.
 * 3. Section numbers are those of the ATmega16U4/32U4 datasheet (7766).
 */
#ifndef UVREK_PORT_ATMEGA32U4_H
#define UVREK_PORT_ATMEGA32U4_H

#include "uvrek/port.h"

/* A control transfer under way (USB 2.0, 8.5.3). */
enum uvk_stage { UVK_IDLE, UVK_SENDING, UVK_SENDING_ROM, UVK_RECEIVING, UVK_CONFIRMING };

struct uvk_control {
    enum uvk_stage stage;
    bool finish_short; /* the answer is shorter than asked for: end it with a short packet */
    uint16_t left;
    uvk_image_bytes rom;
    const uint8_t *ram;
    uint8_t address; /* takes effect when the transfer is confirmed; 0: none */
};

struct uvk_port {
    uint32_t time_us;
    struct uvk_engine *engine;
    struct uvk_control control;
    uint8_t configuration;            /* 0: not configured */
    uint8_t protocol;                 /* of interface 0: 0 boot, 1 report */
    uint8_t idle[UVK_INTERFACES];     /* in 4 ms, 0: only when something changes */
    uint16_t idle_ms[UVK_INTERFACES]; /* since the last report */
    uint8_t lamps;
    uint8_t halted; /* endpoints that the host has halted, a bit each */
    bool may_wake;  /* the host allows remote wake-up */
    bool suspended;
    bool wants_restart, wants_bootloader;
    uint8_t answer[UVK_REPORT_MAX]; /* small answers to control requests */
};

/* matrix.c */
void uvk_matrix_start(void);

/* usb.c: attach; work on what has happened on the cable; say whether something waits. */
void uvk_usb_start(struct uvk_port *port);
void uvk_usb_task(struct uvk_port *port);
void uvk_usb_tick(struct uvk_port *port); /* a millisecond has passed */
void uvk_usb_before_sleep(const struct uvk_port *port);

/* requests.c: an eight-byte SETUP packet; false means STALL. */
bool uvk_usb_request(struct uvk_port *port, const uint8_t setup[8]);
void uvk_usb_received(struct uvk_port *port, uint8_t byte);

/* descriptors.c: a descriptor by type and index, NULL if there is none. */
uvk_image_bytes uvk_usb_descriptor(uint8_t type, uint8_t index, uint16_t *size);
uvk_image_bytes uvk_usb_hid_descriptor(uint8_t interface);

/* power.c: reset, bootloader, sleep while the host sleeps. */
void uvk_power_start(void);
void uvk_power_alive(void); /* the watchdog is fed */
void uvk_power_suspended(struct uvk_port *port);
void uvk_power_reset(bool bootloader) __attribute__((noreturn));

/* Endpoints: 0 control, 1 boot keyboard, 2 all the rest. */
#define UVK_EP0_SIZE  8
#define UVK_EP1_SIZE  8
#define UVK_EP2_SIZE  32
#define UVK_ENDPOINTS 3

#endif
