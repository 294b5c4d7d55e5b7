/* registers.h - the registers of the RP2040 that this port uses; sections are those of the
 * RP2040 datasheet (2024-10-15). */
#ifndef UVREK_RP2040_REGISTERS_H
#define UVREK_RP2040_REGISTERS_H

#include <stdint.h>

#define UVK_REG(address) (*(volatile uint32_t *)(uintptr_t)(address))

/* Every register of a peripheral stands twice more: there, ones set or clear bits (2.1.2). */
#define UVK_SET(address)   UVK_REG((address) + 0x2000u)
#define UVK_CLEAR(address) UVK_REG((address) + 0x3000u)

/* RESETS (2.14): a peripheral is held in reset until its bit is cleared. */
#define RESETS_RESET      0x4000C000u
#define RESETS_RESET_DONE 0x4000C008u
#define RESET_IO_BANK0    (1u << 5)
#define RESET_PADS_BANK0  (1u << 8)
#define RESET_PIO0        (1u << 10)
#define RESET_PLL_SYS     (1u << 12)
#define RESET_PWM         (1u << 14)
#define RESET_PLL_USB     (1u << 13)
#define RESET_TIMER       (1u << 21)
#define RESET_USBCTRL     (1u << 24)

/* Crystal (2.16). */
#define XOSC_CTRL      0x40024000u
#define XOSC_STATUS    0x40024004u
#define XOSC_STARTUP   0x4002400Cu
#define XOSC_1_15_MHZ  0xAA0u
#define XOSC_ENABLE    (0xFABu << 12)
#define XOSC_IS_STABLE (1u << 31)

/* PLLs (2.18). */
#define PLL_SYS       0x40028000u
#define PLL_USB       0x4002C000u
#define PLL_CS        0x0u
#define PLL_PWR       0x4u
#define PLL_FBDIV     0x8u
#define PLL_PRIM      0xCu
#define PLL_IS_LOCKED (1u << 31)
#define PLL_PD        (1u << 0)
#define PLL_POSTDIVPD (1u << 3)
#define PLL_VCOPD     (1u << 5)

/* Clocks (2.15). */
#define CLK_REF_CTRL     0x40008030u
#define CLK_REF_SELECTED 0x40008038u
#define CLK_SYS_CTRL     0x4000803Cu
#define CLK_SYS_SELECTED 0x40008044u
#define CLK_USB_CTRL     0x40008054u
#define CLK_REF_XOSC     2u
#define CLK_SYS_AUX      1u /* which is the system PLL, as after reset */
#define CLK_USB_ENABLE   (1u << 11)

/* Watchdog and power-on state machine (4.7, 2.13). */
#define WATCHDOG_CTRL     0x40058000u
#define WATCHDOG_LOAD     0x40058004u
#define WATCHDOG_REASON   0x40058008u
#define WATCHDOG_SCRATCH0 0x4005800Cu
#define WATCHDOG_TICK     0x4005802Cu
#define WATCHDOG_ENABLE   (1u << 30)
#define WATCHDOG_TRIGGER  (1u << 31)
#define TICK_ENABLE       (1u << 9)
#define PSM_WDSEL         0x40010008u
#define PSM_ALL_BUT_CLOCK 0x1FFFCu /* all but the two oscillators */
#define CHIP_RESET        0x40064008u
#define HAD_RUN           (1u << 16) /* the last reset was that of the RUN pin */

/* Timer (4.6): microseconds. */
#define TIMER_ALARM0   0x40054010u
#define TIMER_TIMERAWL 0x40054028u
#define TIMER_INTR     0x40054034u
#define TIMER_INTE     0x40054038u

/* Pins (2.19) and their fast door (2.3.1.7). */
#define IO_BANK0_CTRL(pin)  (0x40014004u + 8u * (pin))
#define PADS_BANK0_PIN(pin) (0x4001C004u + 4u * (pin))
#define FUNCTION_PWM        4u
#define FUNCTION_SIO        5u
#define FUNCTION_PIO0       6u
#define PAD_PULLED_UP       0x5Au /* input, Schmitt trigger, 4 mA */
#define PAD_PULLED_DOWN     0x56u
#define PAD_OUTPUT          0x52u /* the same, and nothing pulls it */
#define SIO_GPIO_IN         0xD0000004u
#define SIO_GPIO_OUT_SET    0xD0000014u
#define SIO_GPIO_OUT_CLR    0xD0000018u
#define SIO_GPIO_OE_SET     0xD0000024u
#define SIO_GPIO_OE_CLR     0xD0000028u

/* PWM (4.5.3), a slice for two pins. */
#define PWM_CSR(slice) (0x40050000u + 20u * (slice))
#define PWM_DIV(slice) (0x40050004u + 20u * (slice))
#define PWM_CC(slice)  (0x4005000Cu + 20u * (slice))
#define PWM_TOP(slice) (0x40050010u + 20u * (slice))
#define PWM_ENABLE     (1u << 0)

/* PIO (3.7): state machine 0 receives, 1 sends; 2 has the strip. */
#define PIO_CTRL         0x50200000u
#define PIO_FSTAT        0x50200004u
#define PIO_TX(n)        (0x50200010u + 4u * (n))
#define PIO_RX(n)        (0x50200020u + 4u * (n))
#define PIO_MEMORY(n)    (0x50200048u + 4u * (n))
#define PIO_CLKDIV(n)    (0x502000C8u + 24u * (n))
#define PIO_EXECCTRL(n)  (0x502000CCu + 24u * (n))
#define PIO_SHIFTCTRL(n) (0x502000D0u + 24u * (n))
#define PIO_INSTR(n)     (0x502000D8u + 24u * (n))
#define PIO_PINCTRL(n)   (0x502000DCu + 24u * (n))
#define PIO_IRQ0_INTE    0x5020012Cu

#define PIO_RX_EMPTY(n) (1u << (8u + (n)))
#define PIO_TX_FULL(n)  (1u << (16u + (n)))
#define PIO_HAS_COME(n) (1u << (n))
#define PIO_HAS_ROOM(n) (1u << (4u + (n)))
#define PIO_IN_RIGHT    (1u << 18)
#define PIO_OUT_RIGHT   (1u << 19)
#define PIO_JOIN_TX     (1u << 30)
#define PIO_JOIN_RX     (1u << 31)

/* Interrupts of the core (2.4.8, 2.3.2). */
#define NVIC_ISER   0xE000E100u
#define NVIC_ICPR   0xE000E280u
#define IRQ_TIMER0  (1u << 0)
#define IRQ_USBCTRL (1u << 5)
#define IRQ_PIO0    (1u << 7)

/* USB (4.1): 4 KiB of memory for both sides, and registers. */
#define ROSC_RANDOMBIT 0x4006001Cu

#define USB_MEMORY       0x50100000u
#define USB_MEMORY_SIZE  4096u
#define USB_EP_CTRL(n)   (USB_MEMORY + 8u * (n)) /* IN; endpoint 0 has none */
#define USB_EP_OUT(n)    (USB_MEMORY + 4u + 8u * (n))
#define USB_IN_CTRL(n)   (USB_MEMORY + 0x80u + 8u * (n))
#define USB_OUT_CTRL(n)  (USB_MEMORY + 0x84u + 8u * (n))
#define USB_ADDR_ENDP    0x50110000u
#define USB_MAIN_CTRL    0x50110040u
#define USB_SIE_CTRL     0x5011004Cu
#define USB_SIE_STATUS   0x50110050u
#define USB_BUFF_STATUS  0x50110058u
#define USB_EP_STALL_ARM 0x50110068u
#define USB_MUXING       0x50110074u
#define USB_PWR          0x50110078u
#define USB_INTE         0x50110090u
#define USB_INTS         0x50110098u

#define EP_ENABLE       (1u << 31)
#define EP_EACH_BUFFER  (1u << 29) /* BUFF_STATUS tells of each */
#define EP_INTERRUPT    (3u << 26)
#define BUFFER_FULL     (1u << 15)
#define BUFFER_DATA1    (1u << 13)
#define BUFFER_STALL    (1u << 11)
#define BUFFER_AVAIL    (1u << 10)
#define BUFFER_LENGTH   0x3FFu
#define MAIN_ENABLE     (1u << 0)
#define SIE_EP0_EACH    (1u << 29)
#define SIE_PULLUP      (1u << 16)
#define SIE_RESUME      (1u << 12)
#define STATUS_RESET    (1u << 19)
#define STATUS_SETUP    (1u << 17)
#define STATUS_RESUME   (1u << 11)
#define STATUS_SUSPEND  (1u << 4)
#define INT_BUFF_STATUS (1u << 4)
#define INT_BUS_RESET   (1u << 12)
#define INT_SUSPEND     (1u << 14)
#define INT_RESUME      (1u << 15)
#define INT_SETUP       (1u << 16)
#define MUXING_TO_PHY   (1u << 0)
#define MUXING_SOFTCON  (1u << 3)
#define PWR_VBUS        (1u << 2) /* there is always power on the cable: it is what feeds us */
#define PWR_VBUS_OVER   (1u << 3)

#endif
