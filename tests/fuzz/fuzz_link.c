/* libFuzzer: a half of a keyboard whose other half says anything, in frames with and without a
 * right CRC, and a journal that holds anything. The image is in build/fuzz/link-image, see
 * tools/fuzz. */
#include "uvrek/half.h"
#include "uvrek/port_linux.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);
int LLVMFuzzerInitialize(int *count, char ***arguments);

static uint8_t image[4096];
static uint16_t image_size;
static unsigned long frames;

static void tell_frames(void)
{
    fprintf(stderr, "%lu frames were taken\n", frames);
}

int LLVMFuzzerInitialize(int *count, char ***arguments)
{
    FILE *file = fopen("build/fuzz/link-image", "rb");

    (void)count;
    (void)arguments;
    if (file == NULL) {
        fputs("there is no build/fuzz/link-image\n", stderr);
        exit(2);
    }
    image_size = (uint16_t)fread(image, 1, sizeof image, file);
    fclose(file);
    return atexit(tell_frames);
}

static uvk_bits read_line(void *owner, uint8_t line)
{
    return (uvk_bits)(*(const uint8_t *)owner >> line & 3u);
}

static uint8_t read_knob(void *owner, uint8_t knob)
{
    return (*(const uint8_t *)owner >> knob) & 3u;
}

static void send(void *link, const uint8_t *bytes, uint8_t size)
{
    (void)link;
    if (size == 0 || size > UVK_FRAME_MAX || bytes[1] + UVK_FRAME_AROUND != size) {
        abort(); /* it says what is no frame */
    }
}

/* What is still to be said: a byte, or a frame. */
struct said {
    uint8_t bytes[UVK_FRAME_MAX];
    uint8_t count, taken;
};

static bool take(void *link, uint8_t *byte)
{
    struct said *said = link;

    if (said->taken == said->count) {
        return false;
    }
    *byte = said->bytes[said->taken++];
    return true;
}

/* A frame with a right CRC around the next bytes; how many those are. */
static size_t say_frame(struct said *said, const uint8_t *data, size_t size)
{
    uint8_t content[UVK_FRAME_BYTES_MAX];
    uint8_t length = (uint8_t)(size > 1 ? data[1] % (UVK_FRAME_BYTES_MAX + 1u) : 0);
    bool asks = (data[0] & 1u) != 0;

    length = (uint8_t)(asks ? UVK_ASK_BYTES + (length & 1u) * UVK_ASK_SHOWN : length);
    length = (uint8_t)(size < 2u + length ? 0 : length);
    memcpy(content, data + (size < 2 ? size : 2), length);
    said->count =
        uvk_frame_put(said->bytes, asks ? UVK_FRAME_ASK : UVK_FRAME_STATE, content, length);
    said->taken = 0;
    frames++;
    return 2u + length;
}

static void keep_a_journal(const uint8_t *data, size_t size)
{
    static uint8_t memory[2u * UVK_BANK_BYTES];
    struct uvk_port port = {.memory = memory};
    struct uvk_journal journal;

    memset(memory, 0xFF, sizeof memory);
    memcpy(memory, data, size < sizeof memory ? size : sizeof memory);
    (void)uvk_journal_open(&journal, &port, 0x1234);
    (void)uvk_half_stored(&journal, &port, (char)data[0]);
    for (unsigned i = 0; i < 3000; i++) {
        uvk_journal_task(&journal, &port, 10, true);
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static struct uvk_engine engine;
    uint8_t contacts = 0;
    struct said said = {.count = 0};
    struct uvk_port port = {.read_line = read_line,
                            .read_knob = read_knob,
                            .owner = &contacts,
                            .link_send = send,
                            .link_take = take,
                            .link = &said,
                            .configured = true};
    struct uvk_half_setup setup = {.second_knobs = 1, .answer_ms = 1};

    if (size < 2) {
        return 0;
    }
    if (data[0] % 16 == 0) {
        keep_a_journal(data + 1, size - 1);
        return 0;
    }
    setup.second = (data[0] & 1u) != 0;
    setup.second_wins = (data[0] & 2u) != 0;
    setup.role = (enum uvk_half_role)(data[0] >> 2 & 3u) % 3u;
    if (uvk_engine_start(&engine, sizeof engine, image, image_size, 0) != UVK_OK ||
        uvk_half_start(&engine, &setup) != UVK_OK) {
        abort();
    }
    for (size_t at = 1; at < size;) {
        uint8_t what = data[at++];
        if (what >= 0xC0) { /* a millisecond, with a host or without one */
            port.time_us += 1000;
            contacts = what;
            uvk_half_tick(&engine, &port, port.time_us, (what & 1u) != 0);
            uvk_engine_pass(&engine, &port, port.time_us);
            port.endpoints[0].size = 0;
            port.endpoints[1].size = 0;
        } else if (what >= 0x40) {
            at += at < size ? say_frame(&said, data + at, size - at) : 0;
        } else {
            said.bytes[0] = at < size ? data[at++] : what;
            said.count = 1;
            said.taken = 0;
        }
        uvk_half_hear(&engine, &port);
    }
    return 0;
}
