/* build_and_flash.c - from a keymap to a flashed chip, in C.
 *
 *   build/example_build_and_flash boards/subtitle-desk.uvk
 *
 * The chip is the bench's: its bootloader is reached on a line of memory. With a line from
 * uvk_serial_open the same code flashes a real one. */
#include "uvrek/bootloader.h"
#include "uvrek/firmware.h"
#include "uvrek/flash.h"

#include <stdio.h>
#include <string.h>

/* A line that leads straight into the bootloader. */
struct wire {
    struct uvk_bootloader bootloader;
    GByteArray *answers;
};

static bool wire_write(void *self, const uint8_t *bytes, size_t size, GError **error)
{
    struct wire *wire = self;

    (void)error;
    uvk_bootloader_feed(&wire->bootloader, bytes, size, wire->answers);
    return true;
}

static bool wire_read(void *self, uint8_t *bytes, size_t size, unsigned timeout, GError **error)
{
    struct wire *wire = self;

    (void)timeout;
    if (wire->answers->len < size) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, "no answer");
        return false;
    }
    memcpy(bytes, wire->answers->data, size);
    g_byte_array_remove_range(wire->answers, 0, (guint)size);
    return true;
}

static void wire_close(void *self)
{
    (void)self;
}

static bool flash(const struct uvk_chip *chip, const struct uvk_firmware *firmware,
                  GError **error)
{
    struct wire wire;
    struct uvk_line line = {&wire, wire_write, wire_read, wire_close};
    struct uvk_flash_options options = {.port = NULL};
    bool well;

    uvk_bootloader_init(&wire.bootloader, chip);
    wire.answers = g_byte_array_new();
    well = uvk_avr109_flash(&line, chip, firmware->code, firmware->size, &options, error);
    if (well) {
        printf("flashed %zu bytes; the chip holds them: %s\n", firmware->size,
               memcmp(wire.bootloader.flash, firmware->code, firmware->size) == 0 ? "yes"
                                                                                  : "no");
    }
    g_byte_array_free(wire.answers, TRUE);
    uvk_bootloader_clear(&wire.bootloader);
    return well;
}

int main(int argc, char **argv)
{
    struct uvk_build_options options = {.folder = NULL};
    struct uvk_program *program;
    struct uvk_firmware *firmware;
    GError *error = NULL;

    if (argc != 2) {
        fprintf(stderr, "usage: %s FILE.uvk\n", argv[0]);
        return 2;
    }
    program = uvk_program_load(argv[1]);
    if (program->messages.errors > 0 || program->keymap == NULL) {
        fprintf(stderr, "%s is not well; `uvrek check` says why\n", argv[1]);
        uvk_program_free(program);
        return 1;
    }
    firmware = uvk_build(program, &options, &error);
    if (firmware != NULL) {
        printf("built %zu bytes for the %s\n", firmware->size, program->board->chip->title);
        flash(program->board->chip, firmware, &error);
    }
    uvk_firmware_free(firmware);
    uvk_program_free(program);
    if (error != NULL) {
        fprintf(stderr, "%s\n", error->message);
        g_error_free(error);
        return 2;
    }
    return 0;
}
