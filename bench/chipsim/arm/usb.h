/* usb.h - the USB controller's memory and registers, for the two files that look at them (4.1).
 */
#ifndef UVREK_CHIPSIM_ARM_USB_H
#define UVREK_CHIPSIM_ARM_USB_H

#include "arm.h"

#define RESET_USBCTRL 24u

#define IN_CTRL(n)  (0x80u + 8u * (n))
#define OUT_CTRL(n) (0x84u + 8u * (n))
#define EP0_BUFFER  0x100u
#define FULL        (1u << 15)
#define DATA1       (1u << 13)
#define STALL       (1u << 11)
#define AVAILABLE   (1u << 10)
#define LENGTH      0x3FFu
#define EP_ENABLE   (1u << 31)
#define BUFFER_AT   0xFFC0u

#define STATUS_RESET   (1u << 19)
#define STATUS_SETUP   (1u << 17)
#define STATUS_RESUME  (1u << 11)
#define STATUS_SUSPEND (1u << 4)
#define SIE_PULLUP     (1u << 16)
#define SIE_RESUME     (1u << 12)

bool usb_in_reset(const struct sim *sim);
uint32_t usb_word(const struct sim *sim, uint32_t at);
void usb_set_word(struct sim *sim, uint32_t at, uint32_t value);
/* Something has changed: an interrupt may follow. */
void usb_update(struct sim *sim);

#endif
