/* gadget.h - USB devices that the bench plays, and the USB/IP server that exports them.
 *
 * 1. A gadget answers requests as a device on the bus does. It is asked for its descriptors
 *    like for anything else, so it needs no description beside itself.
 * 2. One gadget at a time is plugged into a server. When another one comes, or none, the
 *    client's connection ends, as it does when somebody pulls the cable.
 * 3. Nothing here waits: whoever owns a server waits on its files, and then lets it serve.
 * 4. What comes over the wire is believed in nothing. A client that breaks the protocol is
 *    disconnected; the others do not notice.
 */
#ifndef UVREK_GADGET_H
#define UVREK_GADGET_H

#include "uvrek/bench.h"
#include "uvrek/dfu.h"

#include <poll.h>

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_gadget {
    void *self;
    /* As uvk_rig_control. UVK_TRANSFER_FAILED: it does not answer. */
    enum uvk_transfer (*control)(void *self, const uint8_t setup[8], uint8_t *data,
                                 size_t *size);
    /* The next packet of an interrupt endpoint IN; false: there is none now. NULL: it has no
     * such endpoint. */
    bool (*fetch)(void *self, unsigned endpoint, uint8_t packet[64], size_t *size);
    /* A packet for an interrupt endpoint OUT. UVK_TRANSFER_FAILED: not now. NULL: it has no
     * such endpoint. */
    enum uvk_transfer (*give)(void *self, unsigned endpoint, const uint8_t *packet,
                              size_t size);
    /* The host has let it go: the bus is reset, as far as the device can tell. */
    void (*released)(void *self);
};

struct uvk_usbip;

/* A server at WHERE: PORT on this computer, or ADDRESS:PORT; with port 0 the system chooses
 * one. NULL: *ERROR. */
struct uvk_usbip *uvk_usbip_new(const char *where, GError **error);
void uvk_usbip_free(struct uvk_usbip *server);
unsigned uvk_usbip_port(const struct uvk_usbip *server);

/* Plug GADGET in, which has to last until the next call; NULL: pull it. */
void uvk_usbip_plug(struct uvk_usbip *server, const struct uvk_gadget *gadget);

/* Is there a host that has taken the gadget? */
bool uvk_usbip_is_taken(const struct uvk_usbip *server);

/* The files to wait on; returns how many, at most UVK_USBIP_FILES. */
#define UVK_USBIP_FILES 9u
unsigned uvk_usbip_files(const struct uvk_usbip *server, struct pollfd *files);

/* Do what can be done now. */
void uvk_usbip_serve(struct uvk_usbip *server);

/* ---- a keyboard -------------------------------------------------------------------------- */

/* The keyboard of RIG as a gadget, for as long as the rig lasts. What answers is the chip's own
 * program, so it has to be a rig with a chip. */
struct uvk_gadget uvk_rig_gadget(struct uvk_rig *rig);

/* ---- a bootloader that speaks DFU ------------------------------------------------------- */

struct uvk_dfu_faults {
    bool other_chip;     /* it tells another signature */
    bool refuses_writes; /* it ends each write with an error */
    bool forgets_a_bit;  /* one bit of what is written is lost */
    unsigned after;      /* requests until one of the next four happens */
    bool silent;         /* it does not answer any more */
    bool vanishes;       /* it disconnects */
    bool slow;           /* it is busy for long before each answer, and works */
    bool nonsense;       /* it answers with bytes that mean nothing */
};

/* What kind it is. */
struct uvk_dfu_kind {
    bool plain;        /* DFU 1.1 as it is; else with the chip maker's extension */
    bool uploads;      /* plain: what is in it can be read */
    bool tolerant;     /* plain: it goes on after manifestation (DFU 1.1, 4.1.3) */
    uint16_t transfer; /* plain: bytes of a block */
    uint8_t poll;      /* milliseconds that it asks the host to wait between two questions */
    uint16_t vendor, product;
};

struct uvk_dfu_boot;

/* A bootloader in an erased CHIP. */
struct uvk_dfu_boot *uvk_dfu_boot_new(const struct uvk_chip *chip,
                                      const struct uvk_dfu_kind *kind,
                                      const struct uvk_dfu_faults *faults);
void uvk_dfu_boot_free(struct uvk_dfu_boot *boot);

/* It as a gadget; lasts as long as the bootloader. */
const struct uvk_gadget *uvk_dfu_boot_gadget(const struct uvk_dfu_boot *boot);

/* The chip has come into its bootloader again. MENDED: without faults. */
void uvk_dfu_boot_begin(struct uvk_dfu_boot *boot, bool mended);

/* It has started the firmware; it has disconnected; somebody has asked it for something; a
 * fault has happened. */
bool uvk_dfu_boot_left(const struct uvk_dfu_boot *boot);
bool uvk_dfu_boot_struck(const struct uvk_dfu_boot *boot);
bool uvk_dfu_boot_vanished(const struct uvk_dfu_boot *boot);
bool uvk_dfu_boot_heard(const struct uvk_dfu_boot *boot);

/* The chip's flash, chip->flash bytes. */
uint8_t *uvk_dfu_boot_flash(struct uvk_dfu_boot *boot);

#ifdef __cplusplus
}
#endif

#endif
