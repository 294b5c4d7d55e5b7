/* libFuzzer: a keyboard whose live door is told anything, while fingers type; with changes
 * whose sum is made right, so that the rest of the check is met, too. The image is in
 * build/fuzz/live-image, see tools/fuzz. */
#include "uvrek/door.h"
#include "uvrek/journal.h"
#include "uvrek/port_linux.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);
int LLVMFuzzerInitialize(int *count, char ***arguments);

static uint8_t image[8192];
static uint16_t image_size;
static unsigned long reports, taken;

static void tell_reports(void)
{
    fprintf(stderr, "%lu reports, %lu changes in force\n", reports, taken);
}

int LLVMFuzzerInitialize(int *count, char ***arguments)
{
    FILE *file = fopen("build/fuzz/live-image", "rb");

    (void)count;
    (void)arguments;
    if (file == NULL) {
        fputs("there is no build/fuzz/live-image\n", stderr);
        exit(2);
    }
    image_size = (uint16_t)fread(image, 1, sizeof image, file);
    fclose(file);
    return atexit(tell_reports);
}

static uvk_bits read_line(void *owner, uint8_t line)
{
    return *(const uvk_bits *)owner >> line & 7u;
}

struct keyboard {
    struct uvk_engine engine;
    struct uvk_port port;
    struct uvk_journal journal;
    uvk_bits contacts;
    uint8_t memory[2 * UVK_BANK_BYTES];
};

static void pass(struct keyboard *keyboard, unsigned count)
{
    uint8_t out[UVK_DOOR_BYTES];

    while (count-- > 0) {
        keyboard->port.time_us += 1000;
        uvk_journal_task(&keyboard->journal, &keyboard->port, 1, true);
        uvk_door_tick(&keyboard->engine, &keyboard->port);
        uvk_engine_pass(&keyboard->engine, &keyboard->port, keyboard->port.time_us);
        for (unsigned i = 0; i < UVK_INTERFACES; i++) {
            keyboard->port.endpoints[i].size = 0;
        }
        (void)uvk_door_next(&keyboard->engine, out);
    }
}

/* The sum that what is staged would have, if its head is HEAD. */
static uint32_t right_sum(struct keyboard *keyboard, const uint8_t *head)
{
    struct uvk_staging *staging = &keyboard->engine.door.staging;
    struct uvk_changes *changes = &staging->changes[staging->present == 0];
    struct uvk_changes before = *changes;
    struct uvk_image built = keyboard->engine.image;
    struct uvk_image opened;
    uint32_t crc = UVK_CRC_START;

    built.changes = NULL;
    memcpy(&changes->base, head, 12);
    if (uvk_changes_fit(changes, uvk_image_room(&built)) &&
        uvk_image_open(&built, image, image_size) == UVK_OK &&
        uvk_image_open_changed(&opened, &built, changes) == UVK_OK) {
        for (uint16_t at = 20; at < changes->size; at++) {
            uint8_t byte = uvk_image_byte_at(&opened, at);
            crc = uvk_crc32(crc, &byte, 1);
        }
    }
    *changes = before;
    return ~crc;
}

static void tell(struct keyboard *keyboard, const uint8_t *data, bool mend)
{
    uint8_t report[UVK_DOOR_BYTES];

    memcpy(report, data, sizeof report);
    if (mend && report[1] == UVK_DOOR_TAKE) {
        uint32_t sum;
        memcpy(report + 2, image + 8, 4); /* for this image */
        sum = right_sum(keyboard, report + 2);
        memcpy(report + 6, &sum, 4);
    }
    if (uvk_door_is_free(&keyboard->engine)) {
        uvk_door_take(&keyboard->engine, report);
        reports++;
    }
}

static void start(struct keyboard *keyboard)
{
    struct uvk_door_setup setup = {.journal = &keyboard->journal,
                                   .note = (uvk_image_bytes) "a note",
                                   .note_size = 7,
                                   .board = 7};

    if (uvk_engine_start(&keyboard->engine, sizeof keyboard->engine, image, image_size, 0) !=
        UVK_OK) {
        abort();
    }
    (void)uvk_journal_open(&keyboard->journal, &keyboard->port, 7);
    uvk_door_start(&keyboard->engine, &keyboard->port, &setup);
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static struct keyboard keyboard;
    bool opened;

    memset(&keyboard.port, 0, sizeof keyboard.port);
    memset(keyboard.memory, 0xFF, sizeof keyboard.memory);
    keyboard.contacts = 0;
    keyboard.port.read_line = read_line;
    keyboard.port.owner = &keyboard.contacts;
    keyboard.port.memory = keyboard.memory;
    keyboard.port.configured = true;
    if (size > 0 && (data[0] & 4u)) { /* what is kept is anything */
        for (size_t i = 0; i < sizeof keyboard.memory; i++) {
            keyboard.memory[i] = data[i % size];
        }
    }
    start(&keyboard);
    opened = size > 0 && (data[0] & 1u);
    for (size_t at = 1; at + 1 + UVK_DOOR_BYTES <= size; at += 1 + UVK_DOOR_BYTES) {
        unsigned before = keyboard.engine.door.staging.state;
        if (opened) {
            keyboard.engine.door.consent.state = UVK_DOOR_IS_OPEN;
        }
        tell(&keyboard, data + at + 1, (data[at] & 1u) != 0);
        keyboard.contacts = (data[at] & 2u) ? data[at] >> 2 : 0;
        pass(&keyboard, 3);
        taken += before != UVK_STAGED_TAKEN &&
                 keyboard.engine.door.staging.state == UVK_STAGED_TAKEN;
        if (keyboard.port.wants_restart || keyboard.port.wants_bootloader) {
            keyboard.port.wants_restart = false;
            keyboard.port.wants_bootloader = false;
            start(&keyboard);
        }
    }
    keyboard.contacts = 0;
    pass(&keyboard, 20);
    start(&keyboard); /* with what it has kept */
    keyboard.contacts = 7;
    pass(&keyboard, 5);
    return 0;
}
