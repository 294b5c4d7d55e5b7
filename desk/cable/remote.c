/* remote.c - devices that a USB/IP server exports: the client's end of usbip.h. */
#include "ways.h"

#include "uvrek/usbip.h"

#include <gio/gio.h>
#include <netinet/in.h>
#include <netinet/tcp.h>
#include <string.h>

#define CONNECT_S 5u
#define ANSWER_MS 3000u /* for what a server has to say itself */
#define UNLINK_MS 500u
#define LOCALHOST "127.0.0.1"
#define HERE_MOST 65535u /* bytes of a transfer */

struct wire {
    struct uvk_cable cable;
    GSocketConnection *connection; /* NULL: gone */
    uint32_t device, sequence;
};

/* ---- bytes ------------------------------------------------------------------------------ */

static GSocketConnection *connect_to(const char *where, GError **error)
{
    bool only_port = where[strspn(where, "0123456789")] == '\0';
    char *full = g_strdup_printf("%s%s", only_port ? LOCALHOST ":" : "", where);
    GSocketConnectable *address = g_network_address_parse(full, UVK_USBIP_PORT, NULL);
    GSocketClient *client = g_socket_client_new();
    GSocketConnection *connection = NULL;
    GError *reason = NULL;

    g_socket_client_set_timeout(client, CONNECT_S);
    g_socket_client_set_enable_proxy(client, FALSE);
    if (address != NULL) {
        connection = g_socket_client_connect(client, address, NULL, &reason);
        g_object_unref(address);
    }
    if (connection == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "no USB/IP server at %s: %s", full,
                    reason != NULL ? reason->message : "that is no ADDRESS:PORT");
        g_clear_error(&reason);
    } else {
        GSocket *socket = g_socket_connection_get_socket(connection);
        g_socket_set_blocking(socket, FALSE);
        /* small packets go at once */
        (void)g_socket_set_option(socket, IPPROTO_TCP, TCP_NODELAY, 1, NULL);
    }
    g_object_unref(client);
    g_free(full);
    return connection;
}

static bool wait_for(GSocket *socket, GIOCondition condition, gint64 end)
{
    gint64 left = end - g_get_monotonic_time();

    return left > 0 && g_socket_condition_timed_wait(socket, condition, left, NULL, NULL);
}

/* What became of sending or receiving. */
enum passed { PASSED, LATE, CUT };

static enum passed send_all(GSocketConnection *connection, const uint8_t *bytes, size_t size,
                            gint64 end)
{
    GSocket *socket = g_socket_connection_get_socket(connection);

    while (size > 0) {
        gssize count;
        if (!wait_for(socket, G_IO_OUT, end)) {
            return LATE;
        }
        count = g_socket_send(socket, (const char *)bytes, size, NULL, NULL);
        if (count <= 0) {
            return CUT;
        }
        bytes += count;
        size -= (size_t)count;
    }
    return PASSED;
}

static enum passed receive_all(GSocketConnection *connection, uint8_t *bytes, size_t size,
                               gint64 end)
{
    GSocket *socket = g_socket_connection_get_socket(connection);

    while (size > 0) {
        gssize count;
        if (!wait_for(socket, G_IO_IN, end)) {
            return LATE;
        }
        count = g_socket_receive(socket, (char *)bytes, size, NULL, NULL);
        if (count <= 0) {
            return CUT;
        }
        bytes += count;
        size -= (size_t)count;
    }
    return PASSED;
}

static gint64 end_after(unsigned ms)
{
    return g_get_monotonic_time() + (gint64)ms * 1000;
}

/* ---- the beginning of a connection ------------------------------------------------------ */

static bool fail(GError **error, const char *where, const char *what)
{
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the USB/IP server at %s %s", where, what);
    return false;
}

/* The request CODE, with SIZE bytes more, and the head of its answer. */
static bool ask_server(GSocketConnection *connection, const char *where, uint16_t code,
                       const uint8_t *more, size_t size, GError **error)
{
    uint8_t bytes[UVK_USBIP_HEADER + UVK_USBIP_NAME] = {0};
    gint64 end = end_after(ANSWER_MS);

    uvk_put_big16(bytes, UVK_USBIP_VERSION);
    uvk_put_big16(bytes + 2, code);
    if (size > 0) {
        memcpy(bytes + UVK_USBIP_HEADER, more, size);
    }
    if (send_all(connection, bytes, UVK_USBIP_HEADER + size, end) != PASSED ||
        receive_all(connection, bytes, UVK_USBIP_HEADER, end) != PASSED) {
        return fail(error, where, "does not answer");
    }
    if (uvk_big16(bytes + 2) != (code & 0x00FFu)) {
        return fail(error, where, "speaks another language");
    }
    return uvk_big32(bytes + 4) == 0 ||
           fail(error, where, "does not give it: it is not there, or somebody else has it");
}

/* A name in a field that is filled with zeros. */
static char *name_in(const uint8_t *field)
{
    char *raw = g_strndup((const char *)field, UVK_USBIP_NAME);
    char *name = g_utf8_make_valid(raw, -1);

    g_free(raw);
    return name;
}

static bool read_device(GSocketConnection *connection, GPtrArray *devices)
{
    uint8_t bytes[UVK_USBIP_DEVICE_SIZE];
    struct uvk_usb_device *device;

    if (receive_all(connection, bytes, sizeof bytes, end_after(ANSWER_MS)) != PASSED) {
        return false;
    }
    device = device_add(devices, name_in(bytes + UVK_USBIP_AT_NAME),
                        uvk_big16(bytes + UVK_USBIP_AT_VENDOR),
                        uvk_big16(bytes + UVK_USBIP_AT_PRODUCT));
    for (unsigned i = 0; i < bytes[UVK_USBIP_AT_INTERFACES]; i++) {
        uint8_t one[UVK_USBIP_INTERFACE];
        if (receive_all(connection, one, sizeof one, end_after(ANSWER_MS)) != PASSED) {
            return false;
        }
        if (device->interface_count < UVK_USB_INTERFACES_MOST) {
            device->interfaces[device->interface_count++] =
                (struct uvk_usb_interface){(uint8_t)i, one[0], one[1], one[2]};
        }
    }
    return true;
}

static bool read_list(GSocketConnection *connection, GPtrArray *devices)
{
    uint8_t count[4];

    if (receive_all(connection, count, sizeof count, end_after(ANSWER_MS)) != PASSED ||
        uvk_big32(count) > UVK_USBIP_LIST_MOST) {
        return false;
    }
    for (uint32_t i = 0; i < uvk_big32(count); i++) {
        if (!read_device(connection, devices)) {
            return false;
        }
    }
    return true;
}

GPtrArray *remote_devices(const char *where, GError **error)
{
    GSocketConnection *connection = connect_to(where, error);
    GPtrArray *devices;
    bool good;

    if (connection == NULL) {
        return NULL;
    }
    devices = device_list();
    good = ask_server(connection, where, UVK_USBIP_ASK_LIST, NULL, 0, error);
    if (good && !read_list(connection, devices)) {
        good = fail(error, where, "gives a list that is cut, or too long");
    }
    if (!good) {
        g_clear_pointer(&devices, g_ptr_array_unref);
    }
    g_object_unref(connection);
    return devices;
}

/* ---- transfers -------------------------------------------------------------------------- */

static enum uvk_cable_result lose(struct wire *wire)
{
    g_clear_object(&wire->connection);
    return UVK_CABLE_GONE;
}

static void put_packet(uint8_t *packet, const struct wire *wire, uint32_t code,
                       uint32_t sequence)
{
    memset(packet, 0, UVK_USBIP_PACKET);
    uvk_put_big32(packet + UVK_USBIP_AT_CODE, code);
    uvk_put_big32(packet + UVK_USBIP_AT_SEQUENCE, sequence);
    uvk_put_big32(packet + UVK_USBIP_AT_DEVICE, wire->device);
}

/* OUT's bytes go along, unless the transfer is IN. */
static bool submit(struct wire *wire, unsigned endpoint, bool in, const uint8_t *setup,
                   const uint8_t *out, size_t size)
{
    bool brings = !in && size > 0;
    size_t all = UVK_USBIP_PACKET + (brings ? size : 0);
    uint8_t *packet = g_malloc(all);
    bool sent;

    put_packet(packet, wire, UVK_USBIP_SUBMIT, ++wire->sequence);
    uvk_put_big32(packet + UVK_USBIP_AT_IN, in);
    uvk_put_big32(packet + UVK_USBIP_AT_ENDPOINT, endpoint);
    uvk_put_big32(packet + UVK_USBIP_AT_LENGTH, (uint32_t)size);
    if (setup != NULL) {
        memcpy(packet + UVK_USBIP_AT_SETUP, setup, 8);
    }
    if (brings) {
        memcpy(packet + UVK_USBIP_PACKET, out, size);
    }
    sent = send_all(wire->connection, packet, all, end_after(ANSWER_MS)) == PASSED;
    g_free(packet);
    return sent;
}

/* The answer to the latest transfer, or to taking it back. */
struct answer {
    uint32_t code;
    int32_t status;
    size_t size;
};

/* IN: data follow, at most ROOM bytes into DATA. */
static enum passed read_answer(struct wire *wire, bool in, uint8_t *data, size_t room,
                               gint64 end, struct answer *answer)
{
    uint8_t packet[UVK_USBIP_PACKET];
    enum passed passed = receive_all(wire->connection, packet, sizeof packet, end);

    if (passed != PASSED) {
        return passed;
    }
    answer->code = uvk_big32(packet + UVK_USBIP_AT_CODE);
    answer->status = (int32_t)uvk_big32(packet + UVK_USBIP_AT_STATUS);
    answer->size = 0;
    if (answer->code == UVK_USBIP_UNLINKED) {
        return PASSED;
    }
    answer->size = uvk_big32(packet + UVK_USBIP_AT_LENGTH);
    if (answer->code != UVK_USBIP_DONE || answer->size > room ||
        uvk_big32(packet + UVK_USBIP_AT_SEQUENCE) != wire->sequence) {
        return CUT; /* it says what was not asked: nothing after that can be understood */
    }
    return in ? receive_all(wire->connection, data, answer->size, end_after(ANSWER_MS))
              : PASSED;
}

static enum uvk_cable_result result_of(const struct answer *answer)
{
    return answer->status == 0                 ? UVK_CABLE_DONE
           : answer->status == UVK_USBIP_STALL ? UVK_CABLE_STALL
                                               : UVK_CABLE_GONE;
}

/* The time is over: take the transfer back. If it was done at the last moment, its answer comes
 * before that of taking it back. */
static enum uvk_cable_result take_back(struct wire *wire, bool in, uint8_t *data, size_t room,
                                       size_t *size)
{
    struct answer answer = {0, 0, 0};
    enum uvk_cable_result result = UVK_CABLE_LATE;
    uint8_t packet[UVK_USBIP_PACKET];
    gint64 end = end_after(UNLINK_MS);

    put_packet(packet, wire, UVK_USBIP_UNLINK, wire->sequence + 1);
    uvk_put_big32(packet + UVK_USBIP_AT_VICTIM, wire->sequence);
    if (send_all(wire->connection, packet, sizeof packet, end) != PASSED) {
        return lose(wire);
    }
    do {
        if (read_answer(wire, in, data, room, end, &answer) != PASSED) {
            return lose(wire);
        }
        if (answer.code == UVK_USBIP_DONE) {
            result = result_of(&answer);
            *size = answer.size;
        }
    } while (answer.code != UVK_USBIP_UNLINKED);
    wire->sequence++;
    return result;
}

/* A transfer from its start to its end; *SIZE bytes of DATA. */
static enum uvk_cable_result transfer(struct wire *wire, unsigned endpoint, bool in,
                                      const uint8_t *setup, uint8_t *data, size_t *size,
                                      unsigned ms)
{
    struct answer answer = {0, 0, 0};
    const size_t room = *size;
    enum passed passed;

    *size = 0;
    if (wire->connection == NULL || room > HERE_MOST ||
        !submit(wire, endpoint, in, setup, data, room)) {
        return lose(wire);
    }
    passed = read_answer(wire, in, data, room, end_after(ms), &answer);
    if (passed == CUT) {
        return lose(wire);
    }
    if (passed == LATE) {
        return take_back(wire, in, data, room, size);
    }
    *size = answer.size;
    return result_of(&answer);
}

static enum uvk_cable_result wire_control(void *self, const uint8_t setup[8], uint8_t *data,
                                          size_t *size, unsigned ms)
{
    return transfer(self, 0, (setup[0] & 0x80) != 0, setup, data, size, ms);
}

static enum uvk_cable_result wire_receive(void *self, uint8_t endpoint, uint8_t *data,
                                          size_t *size, unsigned ms)
{
    return transfer(self, endpoint & 0x0Fu, true, NULL, data, size, ms);
}

/* Not all of a packet can be taken back once it is done: what was late counts as late. */
static enum uvk_cable_result wire_send(void *self, uint8_t endpoint, const uint8_t *data,
                                       size_t *size, unsigned ms)
{
    return transfer(self, endpoint & 0x0Fu, false, NULL, (uint8_t *)data, size, ms);
}

/* The wire has no reset of the bus: letting the device go is what does it. */
static void wire_reset(void *self)
{
    (void)lose(self);
}

static void wire_close(void *self)
{
    (void)lose(self);
    g_free(self);
}

/* ---- opening ---------------------------------------------------------------------------- */

static bool take_device(struct wire *wire, const char *where, const char *name, GError **error)
{
    uint8_t asked[UVK_USBIP_NAME] = {0};
    uint8_t bytes[UVK_USBIP_DEVICE_SIZE];

    memcpy(asked, name, MIN(strlen(name), UVK_USBIP_NAME - 1));
    if (!ask_server(wire->connection, where, UVK_USBIP_ASK_DEVICE, asked, sizeof asked,
                    error)) {
        return false;
    }
    if (receive_all(wire->connection, bytes, sizeof bytes, end_after(ANSWER_MS)) != PASSED) {
        return fail(error, where, "does not describe the device");
    }
    wire->device = uvk_big32(bytes + UVK_USBIP_AT_BUS) << 16 |
                   (uvk_big32(bytes + UVK_USBIP_AT_NUMBER) & 0xFFFFu);
    return true;
}

/* Who had the device before may have let it go just now, and the server not know it yet. */
#define TAKE_TRIES 20u
#define TRY_US     20000u

static bool take(struct wire *wire, const char *where, const char *name, GError **error)
{
    for (unsigned tries = 1;; tries++) {
        GError *why = NULL;
        wire->connection = connect_to(where, error);
        if (wire->connection == NULL) {
            return false;
        }
        if (take_device(wire, where, name, &why)) {
            return true;
        }
        if (tries == TAKE_TRIES) {
            g_propagate_error(error, why);
            return false;
        }
        g_clear_error(&why);
        (void)lose(wire);
        g_usleep(TRY_US);
    }
}

struct uvk_cable *remote_open(const char *where, const char *name, GError **error)
{
    struct wire *wire = g_new0(struct wire, 1);

    wire->cable =
        (struct uvk_cable){wire, wire_control, wire_receive, wire_send, wire_reset, wire_close};
    if (!take(wire, where, name, error)) {
        wire_close(wire);
        return NULL;
    }
    return &wire->cable;
}
