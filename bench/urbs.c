/* urbs.c - what USB/IP clients ask the server for: the list, the device, its transfers. */
#include "server.h"

#include "uvrek/usbip.h"

#include <stdio.h>
#include <string.h>

#define DEVICE_NAME     "1-1"
#define DEVICE_PATH     "/uvrek/bench/1-1"
#define BUS             1u
#define GET_DESCRIPTOR  6
#define DEVICE          1
#define CONFIGURATION   2
#define INTERFACE       4
#define DEVICE_SIZE     18u
#define INTERFACE_SIZE  9u
#define INTERFACES_MOST 16u
#define DESCRIPTOR_MOST 1024u

static void client_send(struct client *client, const uint8_t *bytes, size_t size)
{
    g_byte_array_append(client->unsent, bytes, (guint)size);
}

/* ---- who the device is ------------------------------------------------------------------ */

static size_t read_descriptor(const struct uvk_gadget *gadget, uint8_t type, uint8_t *data,
                              size_t size)
{
    const uint8_t setup[8] = {0x80,          GET_DESCRIPTOR,      0, type, 0, 0,
                              (uint8_t)size, (uint8_t)(size >> 8)};

    return gadget->control(gadget->self, setup, data, &size) == UVK_TRANSFER_DONE ? size : 0;
}

/* Class, subclass, protocol and a zero of each interface of a configuration; their number. */
static unsigned list_interfaces(const uint8_t *bytes, size_t size,
                                uint8_t out[INTERFACES_MOST * UVK_USBIP_INTERFACE])
{
    unsigned count = 0;

    for (size_t at = 0; at + 2 <= size && bytes[at] >= 2; at += bytes[at]) {
        if (bytes[at + 1] == INTERFACE && at + INTERFACE_SIZE <= size &&
            count < INTERFACES_MOST) {
            uint8_t *one = out + (size_t)UVK_USBIP_INTERFACE * count++;
            memcpy(one, bytes + at + 5, 3);
            one[3] = 0;
        }
    }
    return count;
}

/* All of a device's description, with its interfaces behind it. False: it does not answer. */
static bool describe(const struct uvk_usbip *server, GByteArray *out)
{
    uint8_t all[UVK_USBIP_DEVICE_SIZE] = {0};
    uint8_t device[DEVICE_SIZE];
    uint8_t configuration[DESCRIPTOR_MOST];
    uint8_t interfaces[INTERFACES_MOST * UVK_USBIP_INTERFACE];
    size_t size;
    unsigned count;

    if (server->gadget == NULL ||
        read_descriptor(server->gadget, DEVICE, device, sizeof device) != sizeof device) {
        return false;
    }
    size = read_descriptor(server->gadget, CONFIGURATION, configuration, sizeof configuration);
    count = list_interfaces(configuration, size, interfaces);
    memcpy(all, DEVICE_PATH, sizeof DEVICE_PATH);
    memcpy(all + UVK_USBIP_AT_NAME, DEVICE_NAME, sizeof DEVICE_NAME);
    uvk_put_big32(all + UVK_USBIP_AT_BUS, BUS);
    uvk_put_big32(all + UVK_USBIP_AT_NUMBER, server->number);
    uvk_put_big32(all + UVK_USBIP_AT_SPEED, UVK_USBIP_FULL_SPEED);
    uvk_put_big16(all + UVK_USBIP_AT_VENDOR, device[8] | (unsigned)device[9] << 8);
    uvk_put_big16(all + UVK_USBIP_AT_PRODUCT, device[10] | (unsigned)device[11] << 8);
    uvk_put_big16(all + UVK_USBIP_AT_RELEASE, device[12] | (unsigned)device[13] << 8);
    memcpy(all + UVK_USBIP_AT_CLASS, device + 4, 3);
    all[UVK_USBIP_AT_CONFIG] = size > 5 ? configuration[5] : 1;
    all[UVK_USBIP_AT_CONFIG + 1] = device[17];
    all[UVK_USBIP_AT_INTERFACES] = (uint8_t)count;
    g_byte_array_append(out, all, sizeof all);
    g_byte_array_append(out, interfaces, count * UVK_USBIP_INTERFACE);
    return true;
}

/* ---- the beginning of a connection ------------------------------------------------------ */

static void send_head(struct client *client, unsigned code, uint32_t status)
{
    uint8_t head[UVK_USBIP_HEADER];

    uvk_put_big16(head, UVK_USBIP_VERSION);
    uvk_put_big16(head + 2, code);
    uvk_put_big32(head + 4, status);
    client_send(client, head, sizeof head);
}

static void send_list(struct uvk_usbip *server, struct client *client)
{
    GByteArray *device = g_byte_array_new();
    uint8_t count[4];

    uvk_put_big32(count, describe(server, device) ? 1 : 0);
    send_head(client, UVK_USBIP_LIST, 0);
    client_send(client, count, sizeof count);
    client_send(client, device->data, device->len);
    g_byte_array_free(device, TRUE);
}

static void give_device(struct uvk_usbip *server, struct client *client, const uint8_t *name)
{
    GByteArray *device = g_byte_array_new();
    bool known = strncmp((const char *)name, DEVICE_NAME, UVK_USBIP_NAME) == 0;

    if (!known || server->taker != NULL || !describe(server, device)) {
        send_head(client, UVK_USBIP_DEVICE, UVK_USBIP_NO_SUCH);
    } else {
        send_head(client, UVK_USBIP_DEVICE, 0);
        client_send(client, device->data, UVK_USBIP_DEVICE_SIZE);
        server->taker = client;
    }
    g_byte_array_free(device, TRUE);
}

/* The request that a connection begins with. Returns the bytes that it had; 0: it is not whole;
 * -1: it is none. */
static int begin(struct uvk_usbip *server, struct client *client)
{
    const uint8_t *at = client->heard->data;
    unsigned code;

    if (client->heard->len < UVK_USBIP_HEADER) {
        return 0;
    }
    code = uvk_big16(at + 2);
    if (code == UVK_USBIP_ASK_LIST) {
        send_list(server, client);
        return UVK_USBIP_HEADER;
    }
    if (code != UVK_USBIP_ASK_DEVICE) {
        return -1;
    }
    if (client->heard->len < UVK_USBIP_HEADER + UVK_USBIP_NAME) {
        return 0;
    }
    give_device(server, client, at + UVK_USBIP_HEADER);
    return UVK_USBIP_HEADER + UVK_USBIP_NAME;
}

/* ---- transfers -------------------------------------------------------------------------- */

static void send_answer(struct client *client, uint32_t code, uint32_t sequence, int32_t status,
                        const uint8_t *data, size_t length, size_t size)
{
    uint8_t *packet = g_malloc0(UVK_USBIP_PACKET + size);

    uvk_put_big32(packet + UVK_USBIP_AT_CODE, code);
    uvk_put_big32(packet + UVK_USBIP_AT_SEQUENCE, sequence);
    uvk_put_big32(packet + UVK_USBIP_AT_STATUS, (uint32_t)status);
    uvk_put_big32(packet + UVK_USBIP_AT_LENGTH, (uint32_t)length);
    if (size > 0) {
        memcpy(packet + UVK_USBIP_PACKET, data, size);
    }
    client_send(client, packet, UVK_USBIP_PACKET + size); /* in one go */
    g_free(packet);
}

/* A transfer waits for what the device has to say. False: too many wait. */
static bool queue(struct client *client, const uint8_t *packet)
{
    struct transfer *transfer;

    if (client->waiting == WAITING_MOST) {
        return false;
    }
    transfer = &client->transfers[client->waiting++];
    *transfer =
        (struct transfer){.sequence = uvk_big32(packet + UVK_USBIP_AT_SEQUENCE),
                          .length = uvk_big32(packet + UVK_USBIP_AT_LENGTH),
                          .endpoint = (uint8_t)uvk_big32(packet + UVK_USBIP_AT_ENDPOINT),
                          .brings = uvk_big32(packet + UVK_USBIP_AT_IN) == 0};
    if (transfer->brings && transfer->endpoint != 0) {
        memcpy(transfer->data, packet + UVK_USBIP_PACKET, transfer->length);
    }
    return true;
}

/* A device that does not answer leaves the transfer waiting, until the host takes it back. */
static bool do_control(struct uvk_usbip *server, struct client *client, const uint8_t *packet)
{
    const struct uvk_gadget *gadget = server->gadget;
    const uint8_t *setup = packet + UVK_USBIP_AT_SETUP;
    bool in = (setup[0] & 0x80) != 0;
    size_t size = uvk_big32(packet + UVK_USBIP_AT_LENGTH);
    uint8_t *data = g_malloc(size + 1);
    enum uvk_transfer result;
    bool good = true;

    if (!in) {
        memcpy(data, packet + UVK_USBIP_PACKET, size);
    }
    result = gadget->control(gadget->self, setup, data, &size);
    size = result == UVK_TRANSFER_DONE ? size : 0;
    if (result == UVK_TRANSFER_FAILED) {
        good = queue(client, packet);
    } else {
        send_answer(client, UVK_USBIP_DONE, uvk_big32(packet + UVK_USBIP_AT_SEQUENCE),
                    result == UVK_TRANSFER_STALL ? UVK_USBIP_STALL : 0, data, size,
                    in ? size : 0);
    }
    g_free(data);
    return good;
}

static void remove_transfer(struct client *client, unsigned index)
{
    client->waiting--;
    memmove(&client->transfers[index], &client->transfers[index + 1],
            (client->waiting - index) * sizeof client->transfers[0]);
}

static void unlink_transfer(struct client *client, const uint8_t *packet)
{
    uint32_t victim = uvk_big32(packet + UVK_USBIP_AT_VICTIM);
    int32_t status = 0; /* its answer is on its way already */

    for (unsigned i = 0; i < client->waiting; i++) {
        if (client->transfers[i].sequence == victim) {
            remove_transfer(client, i);
            status = UVK_USBIP_GONE;
            break;
        }
    }
    send_answer(client, UVK_USBIP_UNLINKED, uvk_big32(packet + UVK_USBIP_AT_SEQUENCE), status,
                NULL, 0, 0);
}

static bool submit(struct uvk_usbip *server, struct client *client, const uint8_t *packet)
{
    uint32_t endpoint = uvk_big32(packet + UVK_USBIP_AT_ENDPOINT);
    bool in = uvk_big32(packet + UVK_USBIP_AT_IN) != 0;

    if (endpoint == 0) {
        return do_control(server, client, packet);
    }
    if (in && endpoint < 16 && server->gadget->fetch != NULL) {
        return queue(client, packet);
    }
    if (!in && endpoint < 16 && server->gadget->give != NULL &&
        uvk_big32(packet + UVK_USBIP_AT_LENGTH) <= PACKET_MOST) {
        return queue(client, packet);
    }
    send_answer(client, UVK_USBIP_DONE, uvk_big32(packet + UVK_USBIP_AT_SEQUENCE),
                UVK_USBIP_STALL, NULL, 0, 0);
    return true;
}

/* The same of a connection that carries transfers. */
static int transact(struct uvk_usbip *server, struct client *client)
{
    const uint8_t *at = client->heard->data;
    uint32_t code;
    uint32_t length;
    bool brings;

    if (client->heard->len < UVK_USBIP_PACKET) {
        return 0;
    }
    code = uvk_big32(at + UVK_USBIP_AT_CODE);
    if (code == UVK_USBIP_UNLINK) {
        unlink_transfer(client, at);
        return UVK_USBIP_PACKET;
    }
    length = uvk_big32(at + UVK_USBIP_AT_LENGTH);
    if (code != UVK_USBIP_SUBMIT || length > OUT_MOST) {
        return -1;
    }
    brings = uvk_big32(at + UVK_USBIP_AT_IN) == 0;
    if (uvk_big32(at + UVK_USBIP_AT_ENDPOINT) == 0 &&
        (brings != ((at[UVK_USBIP_AT_SETUP] & 0x80) == 0) ||
         length != (at[UVK_USBIP_AT_SETUP + 6] | (uint32_t)at[UVK_USBIP_AT_SETUP + 7] << 8))) {
        return -1; /* the packet and its SETUP say different things */
    }
    if (client->heard->len < UVK_USBIP_PACKET + (brings ? length : 0)) {
        return 0;
    }
    return submit(server, client, at) ? (int)(UVK_USBIP_PACKET + (brings ? length : 0)) : -1;
}

/* A packet of the device for a transfer that waits. False: there is none now. */
static bool fetch(const struct uvk_gadget *gadget, struct client *client,
                  const struct transfer *waiting)
{
    uint8_t packet[PACKET_MOST];
    size_t size = sizeof packet;

    if (!gadget->fetch(gadget->self, waiting->endpoint, packet, &size)) {
        return false;
    }
    size = MIN(size, waiting->length); /* never more than was asked for */
    send_answer(client, UVK_USBIP_DONE, waiting->sequence, 0, packet, size, size);
    return true;
}

/* A packet for the device. False: it does not take one now. */
static bool give(const struct uvk_gadget *gadget, struct client *client,
                 const struct transfer *waiting)
{
    enum uvk_transfer result =
        gadget->give(gadget->self, waiting->endpoint, waiting->data, waiting->length);

    if (result == UVK_TRANSFER_FAILED) {
        return false;
    }
    send_answer(client, UVK_USBIP_DONE, waiting->sequence,
                result == UVK_TRANSFER_STALL ? UVK_USBIP_STALL : 0, NULL,
                result == UVK_TRANSFER_DONE ? waiting->length : 0, 0);
    return true;
}

/* Has one of the transfers before INDEX the same endpoint? Then that one comes first. */
static bool has_to_wait(const struct client *client, unsigned index)
{
    const struct transfer *waiting = &client->transfers[index];

    for (unsigned i = 0; i < index; i++) {
        if (client->transfers[i].endpoint == waiting->endpoint) {
            return true;
        }
    }
    return waiting->endpoint == 0;
}

/* What waits, and can be done now. */
static void complete(struct uvk_usbip *server, struct client *client)
{
    for (unsigned i = 0; i < client->waiting;) {
        const struct transfer *waiting = &client->transfers[i];
        if (!has_to_wait(client, i) &&
            (waiting->brings ? give(server->gadget, client, waiting)
                             : fetch(server->gadget, client, waiting))) {
            remove_transfer(client, i);
        } else {
            i++;
        }
    }
}

bool client_answer(struct uvk_usbip *server, struct client *client)
{
    int done;

    do {
        done = server->taker == client ? transact(server, client) : begin(server, client);
        if (done > 0 && client->socket != NULL) {
            g_byte_array_remove_range(client->heard, 0, (guint)done);
        }
    } while (done > 0 && client->socket != NULL && client->heard->len > 0);
    if (done >= 0 && server->taker == client) {
        complete(server, client);
    }
    return done >= 0 && client->socket != NULL;
}
