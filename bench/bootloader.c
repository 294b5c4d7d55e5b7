/* bootloader.c - an AVR109 bootloader, as the desk meets it. */
#include "uvrek/bootloader.h"

#include <string.h>

#define DONE     0x0D
#define REFUSED  '?'
#define NONSENSE 0xA5

void uvk_bootloader_init(struct uvk_bootloader *bootloader, const struct uvk_chip *chip)
{
    memset(bootloader, 0, sizeof *bootloader);
    bootloader->chip = chip;
    bootloader->flash = g_malloc(chip->flash);
    bootloader->block = g_malloc(chip->page);
    memset(bootloader->flash, 0xFF, chip->flash);
}

void uvk_bootloader_clear(struct uvk_bootloader *bootloader)
{
    g_clear_pointer(&bootloader->flash, g_free);
    g_clear_pointer(&bootloader->block, g_free);
}

void uvk_bootloader_begin(struct uvk_bootloader *bootloader, bool mended)
{
    if (mended) {
        memset(&bootloader->faults, 0, sizeof bootloader->faults);
    }
    bootloader->left = false;
    bootloader->struck = false;
    bootloader->cut = false;
    bootloader->programming = false;
    bootloader->command_size = 0;
    bootloader->block_wanted = 0;
    bootloader->heard = 0;
}

static void reply(GByteArray *out, const void *bytes, size_t size)
{
    g_byte_array_append(out, bytes, (guint)size);
}

static void reply_byte(GByteArray *out, uint8_t byte)
{
    reply(out, &byte, 1);
}

/* Its own pages are at the end of flash; it has no way to change them. */
static size_t writable(const struct uvk_bootloader *bootloader)
{
    return bootloader->chip->flash - bootloader->chip->bootloader;
}

static void store_block(struct uvk_bootloader *bootloader, GByteArray *out)
{
    size_t count = bootloader->block_size;
    bool inside = bootloader->address + count <= writable(bootloader);

    bootloader->struck = bootloader->struck || bootloader->faults.refuses_writes ||
                         bootloader->faults.forgets_a_bit;
    if (!bootloader->programming || !inside || bootloader->faults.refuses_writes) {
        reply_byte(out, REFUSED);
        return;
    }
    /* programming clears bits, only erasing sets them */
    for (size_t i = 0; i < count; i++) {
        bootloader->flash[bootloader->address + i] &= bootloader->block[i];
    }
    if (bootloader->faults.forgets_a_bit) {
        bootloader->flash[bootloader->address + count / 2] ^= 0x10;
    }
    bootloader->address += count;
    reply_byte(out, DONE);
}

/* ---- commands --------------------------------------------------------------------- */

static void tell_name(struct uvk_bootloader *bootloader, GByteArray *out)
{
    (void)bootloader;
    reply(out, "UVBENCH", 7);
}

static void tell_block_size(struct uvk_bootloader *bootloader, GByteArray *out)
{
    uint8_t answer[3] = {'Y', (uint8_t)(bootloader->chip->page >> 8),
                         (uint8_t)bootloader->chip->page};

    reply(out, answer, sizeof answer);
}

static void tell_signature(struct uvk_bootloader *bootloader, GByteArray *out)
{
    const uint8_t *signature = bootloader->chip->signature;
    uint8_t answer[3] = {signature[2], signature[1], signature[0]};

    if (bootloader->faults.other_chip) {
        answer[0] ^= 0x0D;
    }
    reply(out, answer, sizeof answer);
}

static void enter(struct uvk_bootloader *bootloader, GByteArray *out)
{
    bootloader->programming = true;
    reply_byte(out, DONE);
}

static void leave(struct uvk_bootloader *bootloader, GByteArray *out)
{
    bootloader->programming = false;
    reply_byte(out, DONE);
}

static void erase(struct uvk_bootloader *bootloader, GByteArray *out)
{
    if (!bootloader->programming) {
        reply_byte(out, REFUSED);
        return;
    }
    memset(bootloader->flash, 0xFF, writable(bootloader));
    reply_byte(out, DONE);
}

static void set_address(struct uvk_bootloader *bootloader, GByteArray *out)
{
    bootloader->address = ((size_t)bootloader->command[1] << 8 | bootloader->command[2]) * 2u;
    reply_byte(out, DONE);
}

static void write_block(struct uvk_bootloader *bootloader, GByteArray *out)
{
    (void)bootloader;
    (void)out; /* the block's bytes follow */
}

static void read_block(struct uvk_bootloader *bootloader, GByteArray *out)
{
    size_t count = (size_t)bootloader->command[1] << 8 | bootloader->command[2];
    size_t left = bootloader->chip->flash - MIN(bootloader->address, bootloader->chip->flash);

    count = MIN(count, left);
    reply(out, bootloader->flash + bootloader->address, count);
    bootloader->address += count;
}

static void start_firmware(struct uvk_bootloader *bootloader, GByteArray *out)
{
    bootloader->left = true;
    reply_byte(out, DONE);
}

static void confirm(struct uvk_bootloader *bootloader, GByteArray *out)
{
    (void)bootloader;
    reply_byte(out, DONE);
}

static void tell_yes(struct uvk_bootloader *bootloader, GByteArray *out)
{
    (void)bootloader;
    reply_byte(out, 'Y');
}

/* The bytes of each command, its letter included; blocks: 'F' for flash comes last. */
static const struct {
    char letter;
    size_t size;
    void (*run)(struct uvk_bootloader *, GByteArray *);
} commands[] = {
    {'S', 1, tell_name},      {'b', 1, tell_block_size}, {'s', 1, tell_signature},
    {'P', 1, enter},          {'L', 1, leave},           {'e', 1, erase},
    {'A', 3, set_address},    {'B', 4, write_block},     {'g', 4, read_block},
    {'E', 1, start_firmware}, {'T', 2, confirm},         {'a', 1, tell_yes},
};

#define BLOCK_COMMAND 4u

/* A whole command of at most three bytes is in command[]; of blocks, LAST is the memory. */
static void run_command(struct uvk_bootloader *bootloader, uint8_t last, GByteArray *out)
{
    char letter = (char)bootloader->command[0];

    for (size_t i = 0; i < G_N_ELEMENTS(commands); i++) {
        if (commands[i].letter != letter) {
            continue;
        }
        if (commands[i].size == BLOCK_COMMAND && last != 'F') {
            reply_byte(out, REFUSED);
        } else {
            commands[i].run(bootloader, out);
        }
        if (letter == 'B' && last == 'F') {
            size_t wanted = (size_t)bootloader->command[1] << 8 | bootloader->command[2];
            bootloader->block_size = 0;
            bootloader->block_wanted = wanted;
            if (wanted == 0 || wanted > bootloader->chip->page) {
                bootloader->block_wanted = 0;
                reply_byte(out, REFUSED);
            }
        }
    }
}

static size_t size_of(char letter)
{
    for (size_t i = 0; i < G_N_ELEMENTS(commands); i++) {
        if (commands[i].letter == letter) {
            return commands[i].size;
        }
    }
    return 0;
}

static void take_byte(struct uvk_bootloader *bootloader, uint8_t byte, GByteArray *out)
{
    if (bootloader->block_wanted > 0) {
        bootloader->block[bootloader->block_size++] = byte;
        if (bootloader->block_size == bootloader->block_wanted) {
            bootloader->block_wanted = 0;
            store_block(bootloader, out);
        }
        return;
    }
    if (bootloader->command_size == 0) {
        bootloader->command_wanted = size_of((char)byte);
        if (bootloader->command_wanted == 0) {
            reply_byte(out, REFUSED);
            return;
        }
    }
    if (bootloader->command_size < sizeof bootloader->command) {
        bootloader->command[bootloader->command_size] = byte;
    }
    if (++bootloader->command_size == bootloader->command_wanted) {
        bootloader->command_size = 0;
        run_command(bootloader, byte, out);
    }
}

/* Has the fault that comes AFTER so many bytes come? */
static bool strikes(struct uvk_bootloader *bootloader, size_t after)
{
    bool now = after != 0 && bootloader->heard > after;

    bootloader->struck = bootloader->struck || now;
    return now;
}

void uvk_bootloader_feed(struct uvk_bootloader *bootloader, const uint8_t *bytes, size_t size,
                         GByteArray *out)
{
    for (size_t i = 0; i < size; i++) {
        guint before = out->len;
        bootloader->heard++;
        bootloader->cut = strikes(bootloader, bootloader->faults.cut_after);
        if (bootloader->cut || strikes(bootloader, bootloader->faults.silent_after)) {
            return;
        }
        take_byte(bootloader, bytes[i], out);
        if (strikes(bootloader, bootloader->faults.nonsense_after)) {
            memset(out->data + before, NONSENSE, out->len - before);
        }
    }
}
