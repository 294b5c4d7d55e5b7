/* boot.c - the second stage of booting (2.8.1.3): the ROM copies these 256 bytes to the end of
 * RAM and runs them there if their checksum is right. They make the flash readable as memory,
 * and go on with the program behind them.
 *
 * The flash is read with command 03h, which every chip knows: slow, but a scan pass hardly
 * feels it, for the cache holds it (2.6.3). */
#include "port_rp2040.h"

void uvk_boot(void) __attribute__((naked, used, section(".boot")));
void uvk_boot(void)
{
    __asm__ volatile(
        "ldr r3, .Lssi\n"
        "movs r1, #0\n"
        "str r1, [r3, #0x08]\n" /* SSIENR: off while it is set up (4.10.13) */
        "movs r1, #4\n"
        "str r1, [r3, #0x14]\n" /* BAUDR: a quarter of the system's clock */
        "ldr r1, .Lctrlr0\n"
        "str r1, [r3, #0x00]\n" /* CTRLR0: one data line, 32 bits, read behind a command */
        "movs r1, #0\n"
        "str r1, [r3, #0x04]\n" /* CTRLR1: one word */
        "ldr r1, .Lspi_ctrlr0\n"
        "ldr r0, .Lspi_ctrlr0_at\n"
        "str r1, [r0]\n" /* SPI_CTRLR0: command 03h, 24 bits of address */
        "movs r1, #1\n"
        "str r1, [r3, #0x08]\n"
        "ldr r0, .Lvectors\n"
        "ldr r1, .Lvtor\n"
        "str r0, [r1]\n"
        "ldmia r0!, {r1, r2}\n"
        "msr msp, r1\n"
        "bx r2\n"
        ".align 2\n"
        ".Lssi: .word 0x18000000\n"
        ".Lctrlr0: .word 0x001F0300\n"
        ".Lspi_ctrlr0: .word 0x03000218\n"
        ".Lspi_ctrlr0_at: .word 0x180000F4\n"
        ".Lvectors: .word 0x10000100\n"
        ".Lvtor: .word 0xE000ED08\n"
        ".fill 252 - (. - uvk_boot), 1, 0\n"
        ".word 0x0A4B45CE\n" /* their checksum (2.8.1.3.1); `uvrek build` looks at it too */
    );
}
