/* cable.c - devices and cables, whichever way they are reached. */
#include "ways.h"

#define ANSWER_MS         1000u
#define GET_DESCRIPTOR    6
#define FROM_DEVICE       0x80
#define DEVICE            1
#define CONFIGURATION     2
#define STRING            3
#define TOTAL_AT          2
#define FIRST_STRING_AT   14 /* of the device descriptor: maker, product, serial number */
#define CONFIGURATION_END 9

/* ---- devices ---------------------------------------------------------------------------- */

GPtrArray *uvk_usb_devices(const char *where, GError **error)
{
    return where != NULL ? remote_devices(where, error) : bus_devices(error);
}

struct uvk_cable *uvk_cable_open(const char *where, const char *name, uint8_t interface,
                                 GError **error)
{
    return where != NULL ? remote_open(where, name, error) : bus_open(name, interface, error);
}

void uvk_cable_close(struct uvk_cable *cable)
{
    if (cable != NULL) {
        cable->close(cable->self);
    }
}

/* ---- what all devices answer to --------------------------------------------------------- */

enum uvk_cable_result uvk_cable_ask(struct uvk_cable *cable, const struct uvk_request *request,
                                    uint8_t *data, size_t *size, unsigned ms)
{
    const uint8_t setup[8] = {
        request->type,           request->code,
        (uint8_t)request->value, (uint8_t)(request->value >> 8),
        (uint8_t)request->index, (uint8_t)(request->index >> 8),
        (uint8_t)*size,          (uint8_t)(*size >> 8),
    };

    return cable->control(cable->self, setup, data, size, ms);
}

/* Descriptor TYPE, number INDEX; how much of it came. */
static size_t read_descriptor(struct uvk_cable *cable, uint8_t type, uint8_t index,
                              uint16_t language, uint8_t *data, size_t size)
{
    const struct uvk_request request = {FROM_DEVICE, GET_DESCRIPTOR,
                                        (uint16_t)(type << 8 | index), language};

    return uvk_cable_ask(cable, &request, data, &size, ANSWER_MS) == UVK_CABLE_DONE ? size : 0;
}

uint8_t *uvk_cable_configuration(struct uvk_cable *cable, size_t *size)
{
    uint8_t head[CONFIGURATION_END];
    size_t total;
    uint8_t *whole;

    if (read_descriptor(cable, CONFIGURATION, 0, 0, head, sizeof head) != sizeof head) {
        return NULL;
    }
    total = (size_t)(head[TOTAL_AT] | head[TOTAL_AT + 1] << 8);
    if (head[1] != CONFIGURATION || total < sizeof head) {
        return NULL;
    }
    whole = g_malloc(total);
    *size = read_descriptor(cable, CONFIGURATION, 0, 0, whole, total);
    if (*size < sizeof head) {
        g_clear_pointer(&whole, g_free);
    }
    return whole;
}

char *uvk_cable_string(struct uvk_cable *cable, unsigned which)
{
    uint8_t bytes[255];
    gunichar2 units[126] = {0};
    size_t size = read_descriptor(cable, DEVICE, 0, 0, bytes, 18);
    uint8_t index = size == 18 ? bytes[FIRST_STRING_AT - 1 + which] : 0;
    uint16_t language;

    if (index == 0 || read_descriptor(cable, STRING, 0, 0, bytes, sizeof bytes) < 4) {
        return NULL;
    }
    language = (uint16_t)(bytes[2] | bytes[3] << 8);
    size = read_descriptor(cable, STRING, index, language, bytes, sizeof bytes);
    size = MIN(size, size > 0 ? bytes[0] : 0u);
    if (size < 4 || bytes[1] != STRING) {
        return NULL;
    }
    for (size_t i = 2; i + 1 < size; i += 2) {
        units[i / 2 - 1] = (gunichar2)(bytes[i] | bytes[i + 1] << 8);
    }
    return g_utf16_to_utf8(units, (glong)(size / 2 - 1), NULL, NULL, NULL);
}
