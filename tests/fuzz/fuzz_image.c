/* libFuzzer: an image that may be anything, and contacts and knobs that do anything.
 *
 * The input is an image, as long as its own header says, then pairs of bytes: a contact to
 * change, and milliseconds to let pass. Magic, version, length and sum are set right, so that
 * the fuzzer spends its time behind them. */
#include "../../image/layout.h"
#include "uvrek/port_linux.h"

#include <stdlib.h>
#include <string.h>

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);

static uint32_t contacts[UVK_MAX_LINES];
static uint8_t phases;

static uvk_bits read_line(void *owner, uint8_t line)
{
    (void)owner;
    return (uvk_bits)contacts[line];
}

static uint8_t read_knob(void *owner, uint8_t knob)
{
    (void)owner;
    return (uint8_t)((phases >> (knob & 3u)) & 3u);
}

static void seal(uint8_t *image, size_t size)
{
    uint32_t sum;

    memcpy(image + AT_MAGIC, "UVKI", 4);
    image[AT_VERSION] = UVK_IMAGE_VERSION;
    image[AT_TABLES] = UVK_TABLES;
    image[AT_LENGTH] = (uint8_t)size;
    image[AT_LENGTH + 1] = (uint8_t)(size >> 8);
    sum = uvk_crc32(UVK_CRC_START, image, AT_SUM);
    sum = ~uvk_crc32(sum, image + AT_KEYS, (uint16_t)(size - AT_KEYS));
    for (unsigned i = 0; i < 4; i++) {
        image[AT_SUM + i] = (uint8_t)(sum >> (8 * i));
    }
}

/* What must hold after every pass, whatever the image says. */
static void check(const struct uvk_engine *engine)
{
    size_t holds = sizeof engine->holds.list / sizeof *engine->holds.list;

    if (engine->layers.count == 0 || engine->layers.count > engine->image.layers ||
        engine->layers.order[0] != 0 || engine->queue.count > UVK_QUEUE ||
        engine->holds.count > holds) {
        abort();
    }
}

static void play(struct uvk_engine *engine, struct uvk_port *port, const uint8_t *steps,
                 size_t count)
{
    for (size_t i = 0; i + 1 < count; i += 2) {
        contacts[steps[i] % engine->image.lines] ^= 1u << (steps[i] / 8 % engine->image.senses);
        phases = steps[i];
        for (unsigned passes = 1; passes <= 4; passes++) {
            port->time_us += 1000u * (1u + steps[i + 1] / 4u);
            uvk_engine_pass(engine, port, port->time_us);
            check(engine);
            if (passes & 1u) {
                memset(port->endpoints, 0, sizeof port->endpoints);
            }
        }
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static struct uvk_engine engine;
    struct uvk_port port = {.read_line = read_line, .read_knob = read_knob, .configured = true};
    size_t length = size > AT_LENGTH + 1 ? get16(data + AT_LENGTH) : 0;
    uint8_t *image;

    if (length < HEADER_SIZE || length > size) {
        length = size;
    }
    if (length < HEADER_SIZE || length > UVK_IMAGE_MAX) {
        return 0;
    }
    image = malloc(length);
    if (image == NULL) {
        return 0;
    }
    memcpy(image, data, length);
    seal(image, length);
    memset(contacts, 0, sizeof contacts);
    if (uvk_engine_start(&engine, sizeof engine, image, (uint16_t)length, 0) == UVK_OK) {
        uvk_engine_pass(&engine, &port, 0);
        play(&engine, &port, data + length, size - length);
    }
    free(image);
    return 0;
}
