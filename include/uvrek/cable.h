/* cable.h - how the desk reaches a USB device: one that is plugged in here, or one that another
 * program exports over USB/IP, such as the bench.
 *
 * 1. WHERE says where devices are looked for: NULL is this computer's own USB, else it is
 *    ADDRESS:PORT or PORT of a USB/IP server.
 * 2. A device is found by its NAME: bus and ports, such as "1-4.2".
 * 3. Every transfer has an end: the time that is given, in milliseconds.
 * 4. What comes from a device is believed in nothing; a size is never larger than asked for.
 */
#ifndef UVREK_CABLE_H
#define UVREK_CABLE_H

#include "uvrek/problem.h"

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* ---- what is there ---------------------------------------------------------------------- */

struct uvk_usb_interface {
    uint8_t number, class_code, subclass, protocol;
};
#define UVK_USB_INTERFACES_MOST 8u

struct uvk_usb_device {
    char *name;
    uint16_t vendor, product;
    char *title;  /* as the device calls itself; NULL: not known before it is opened */
    char *closed; /* it is there, but this user may not open it: its file; NULL: it may */
    unsigned interface_count;
    struct uvk_usb_interface interfaces[UVK_USB_INTERFACES_MOST];
};

/* All devices that are there, freed with g_ptr_array_unref. NULL: *ERROR. */
GPtrArray *uvk_usb_devices(const char *where, GError **error); /* of struct uvk_usb_device * */

/* Can this program reach the USB of this computer at all? */
bool uvk_has_usb(void);

/* ---- one of them ------------------------------------------------------------------------ */

enum uvk_cable_result {
    UVK_CABLE_DONE,
    UVK_CABLE_STALL, /* the device refused it (USB 2.0, 8.5.3.4) */
    UVK_CABLE_LATE,  /* it did not answer in time */
    UVK_CABLE_GONE   /* it is not there any more; nothing can be asked of it */
};

struct uvk_cable {
    void *self;
    /* A control transfer (USB 2.0, 8.5.3): SETUP, then *SIZE bytes of DATA to or from the
     * device, as SETUP says. *SIZE becomes what was transferred. */
    enum uvk_cable_result (*control)(void *self, const uint8_t setup[8], uint8_t *data,
                                     size_t *size, unsigned ms);
    /* One packet from the interrupt endpoint IN, at most *SIZE bytes. */
    enum uvk_cable_result (*receive)(void *self, uint8_t endpoint, uint8_t *data, size_t *size,
                                     unsigned ms);
    /* One packet to the interrupt endpoint OUT, of *SIZE bytes; *SIZE becomes what it took. */
    enum uvk_cable_result (*send)(void *self, uint8_t endpoint, const uint8_t *data,
                                  size_t *size, unsigned ms);
    /* The bus is reset; the device may be another one then, so the cable is of no more use. */
    void (*reset)(void *self);
    void (*close)(void *self);
};

/* Open the device NAME, to speak with its INTERFACE: through the kernel's driver, if that lets
 * this user, else it is taken from that while it is open. Or only over the control pipe, and
 * nobody loses anything. NULL: *ERROR. */
#define UVK_CONTROL_PIPE 0xFFu
struct uvk_cable *uvk_cable_open(const char *where, const char *name, uint8_t interface,
                                 GError **error);
void uvk_cable_close(struct uvk_cable *cable);

/* A control request of at most 65,535 bytes; TYPE is bmRequestType (USB 2.0, 9.3). */
struct uvk_request {
    uint8_t type, code;
    uint16_t value, index;
};
enum uvk_cable_result uvk_cable_ask(struct uvk_cable *cable, const struct uvk_request *request,
                                    uint8_t *data, size_t *size, unsigned ms);

/* The configuration descriptor with all that belongs to it (USB 2.0, 9.6.3), freed with g_free;
 * NULL: the device does not tell it. */
uint8_t *uvk_cable_configuration(struct uvk_cable *cable, size_t *size);

/* A string of the device descriptor (9.6.1): 1 the maker, 2 the product, 3 the serial number.
 * NULL: the device does not tell it. Freed with g_free. */
char *uvk_cable_string(struct uvk_cable *cable, unsigned which);

#ifdef __cplusplus
}
#endif

#endif
