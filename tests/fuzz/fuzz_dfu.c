/* libFuzzer: DFU. Descriptors that may be anything; the desk's end against a device that
 * answers anything; the bench's bootloader against a host that asks anything. Time is
 * simulated. */
#include "uvrek/flash.h"
#include "uvrek/gadget.h"

#include <stdlib.h>
#include <string.h>

#define REQUESTS_MOST 3000u

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);

/* Nobody waits here. */
static gint64 now;

gint64 g_get_monotonic_time(void)
{
    return now += 10;
}

void g_usleep(gulong us)
{
    now += (gint64)us;
}

/* ---- a device that answers anything ----------------------------------------------------- */

struct stream {
    struct uvk_cable cable;
    const uint8_t *data;
    size_t size;
    unsigned requests;
};

static uint8_t take(struct stream *stream)
{
    if (stream->size == 0) {
        return 0;
    }
    stream->size--;
    return *stream->data++;
}

static enum uvk_cable_result stream_control(void *self, const uint8_t setup[8], uint8_t *data,
                                            size_t *size, unsigned ms)
{
    struct stream *stream = self;
    uint8_t how = take(stream);

    if (++stream->requests > REQUESTS_MOST) {
        return UVK_CABLE_GONE;
    }
    now += (how & 0xC0) == 0xC0 ? (gint64)ms * 1000 : 0;
    if ((how & 0x30) == 0x30) {
        *size = 0;
        return (enum uvk_cable_result)(how & 3);
    }
    if (setup[0] & 0x80) {
        *size = (how & 0x0F) == 0x0F ? take(stream) % (*size + 1) : *size;
        for (size_t i = 0; i < *size; i++) {
            data[i] = take(stream);
        }
    }
    return UVK_CABLE_DONE;
}

static void stream_reset(void *self)
{
    (void)self;
}

static bool look(void *self, const uint8_t *code, size_t size, GError **error)
{
    (void)self;
    (void)error;
    return code == NULL || size < 0x10000;
}

static void desk_end(const uint8_t *data, size_t size)
{
    static uint8_t code[1500];
    const struct uvk_flash_options options = {.before = size % 2 == 0 ? look : NULL};
    struct stream stream = {.data = data, .size = size};
    GError *error = NULL;
    bool good;

    stream.cable = (struct uvk_cable){&stream, stream_control, NULL, NULL, stream_reset, NULL};
    good = uvk_dfu_flash(&stream.cable, uvk_chip_named("atmega32u4"), (size & 2) != 0, code,
                         sizeof code, &options, &error);
    if (good != (error == NULL)) {
        abort();
    }
    g_clear_error(&error);
}

/* ---- a host that asks anything
 * ---------------------------------------------------------------- */

static void bench_end(const uint8_t *data, size_t size)
{
    const struct uvk_dfu_kind kind = {
        .plain = size & 1, .uploads = true, .tolerant = size & 2, .transfer = 128};
    const struct uvk_dfu_faults none = {.after = 0};
    const struct uvk_chip *chip = uvk_chip_named("atmega32u4");
    struct uvk_dfu_boot *boot = uvk_dfu_boot_new(chip, &kind, &none);
    const struct uvk_gadget *gadget = uvk_dfu_boot_gadget(boot);

    while (size >= 8) {
        uint8_t bytes[0x1000];
        size_t asked = (data[6] | (size_t)data[7] << 8) % sizeof bytes;
        size_t count = asked;
        memset(bytes, 0, sizeof bytes);
        memcpy(bytes, data + 8, MIN(size - 8, asked));
        if (gadget->control(gadget->self, data, bytes, &count) == UVK_TRANSFER_DONE &&
            count > asked) {
            abort();
        }
        asked = data[0] & 0x80 ? 0 : MIN(size - 8, asked);
        data += 8 + asked;
        size -= 8 + asked;
    }
    for (size_t at = chip->flash - chip->bootloader; at < chip->flash; at++) {
        if (uvk_dfu_boot_flash(boot)[at] != 0xFF) {
            abort(); /* its own pages */
        }
    }
    uvk_dfu_boot_free(boot);
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct uvk_dfu_function function;

    (void)uvk_dfu_find(data, size, &function);
    desk_end(data, size);
    bench_end(data, size);
    return 0;
}
