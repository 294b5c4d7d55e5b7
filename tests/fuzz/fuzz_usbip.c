/* libFuzzer: USB/IP. The bench's server against a client that says anything, the desk's client
 * against a server that says anything; real connections on this computer. */
#include "uvrek/cable.h"
#include "uvrek/gadget.h"

#include <gio/gio.h>
#include <stdlib.h>
#include <string.h>

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);

static const uint8_t device_bytes[18] = {18,   1, 0, 2, 0, 0, 0, 8, 9,
                                         0x12, 7, 0, 0, 1, 1, 2, 0, 1};

static enum uvk_transfer control(void *self, const uint8_t setup[8], uint8_t *data,
                                 size_t *size)
{
    (void)self;
    if (setup[0] == 0x80 && setup[1] == 6) {
        *size = MIN(*size, sizeof device_bytes);
        memcpy(data, device_bytes, *size);
        return UVK_TRANSFER_DONE;
    }
    if (setup[0] & 0x80) {
        memset(data, setup[1], *size);
    }
    return (enum uvk_transfer)(setup[2] % 3);
}

static bool fetch(void *self, unsigned endpoint, uint8_t packet[64], size_t *size)
{
    (void)self;
    memset(packet, (int)endpoint, 64);
    *size = endpoint * 4;
    return endpoint < 8;
}

/* ---- a client that says anything -------------------------------------------------------- */

static GSocketConnection *connect_to(unsigned port)
{
    GSocketClient *client = g_socket_client_new();
    GSocketConnection *connection =
        g_socket_client_connect_to_host(client, "127.0.0.1", (guint16)port, NULL, NULL);

    g_object_unref(client);
    return connection;
}

static void talk_to_server(const uint8_t *data, size_t size)
{
    static struct uvk_usbip *server;
    static const struct uvk_gadget gadget = {NULL, control, fetch, NULL};
    GSocketConnection *connection;
    GSocket *socket;
    uint8_t back[65536];

    if (server == NULL) {
        server = uvk_usbip_new("0", NULL);
        uvk_usbip_plug(server, &gadget);
    }
    connection = connect_to(uvk_usbip_port(server));
    if (connection == NULL) {
        abort();
    }
    socket = g_socket_connection_get_socket(connection);
    (void)g_socket_send(socket, (const char *)data, size, NULL, NULL);
    (void)g_socket_shutdown(socket, FALSE, TRUE, NULL);
    g_socket_set_blocking(socket, FALSE);
    for (unsigned i = 0; i < 6; i++) {
        uvk_usbip_serve(server);
        (void)g_socket_receive(socket, (char *)back, sizeof back, NULL, NULL);
    }
    g_object_unref(connection);
    uvk_usbip_serve(server);
    if (uvk_usbip_is_taken(server)) {
        uvk_usbip_serve(server);
    }
}

/* ---- a server that says anything -------------------------------------------------------- */

struct speech {
    GSocket *socket;
    const uint8_t *data;
    size_t size;
};

static gpointer speak(gpointer self)
{
    const struct speech *speech = self;
    GSocket *socket = g_socket_accept(speech->socket, NULL, NULL);

    if (socket != NULL) {
        (void)g_socket_send(socket, (const char *)speech->data, speech->size, NULL, NULL);
        (void)g_socket_shutdown(socket, FALSE, TRUE, NULL);
        char back[4096];
        while (g_socket_receive(socket, back, sizeof back, NULL, NULL) > 0) {
        }
        g_object_unref(socket);
    }
    return NULL;
}

static GSocket *listener(char **where)
{
    GSocketAddress *address = g_inet_socket_address_new_from_string("127.0.0.1", 0);
    GSocket *socket =
        g_socket_new(G_SOCKET_FAMILY_IPV4, G_SOCKET_TYPE_STREAM, G_SOCKET_PROTOCOL_TCP, NULL);

    (void)g_socket_bind(socket, address, TRUE, NULL);
    (void)g_socket_listen(socket, NULL);
    g_object_unref(address);
    address = g_socket_get_local_address(socket, NULL);
    *where =
        g_strdup_printf("%u", g_inet_socket_address_get_port(G_INET_SOCKET_ADDRESS(address)));
    g_object_unref(address);
    return socket;
}

static void use_cable(struct uvk_cable *cable)
{
    uint8_t bytes[64];
    size_t size = sizeof bytes;
    const struct uvk_request request = {0xC0, 2, 0, 0};

    (void)uvk_cable_ask(cable, &request, bytes, &size, 5);
    if (size > sizeof bytes) {
        abort();
    }
    size = sizeof bytes;
    (void)cable->receive(cable->self, 1, bytes, &size, 5);
    g_free(uvk_cable_configuration(cable, &size));
    g_free(uvk_cable_string(cable, 2));
    uvk_cable_close(cable);
}

static void listen_to_server(const uint8_t *data, size_t size, bool whole)
{
    static GSocket *socket;
    static char *where;
    struct speech speech = {NULL, data, size};
    GThread *thread;

    socket = socket != NULL ? socket : listener(&where);
    speech.socket = socket;
    thread = g_thread_new("server", speak, &speech);
    if (whole) {
        struct uvk_cable *cable = uvk_cable_open(where, "1-1", 0, NULL);
        if (cable != NULL) {
            use_cable(cable);
        }
    } else {
        GPtrArray *devices = uvk_usb_devices(where, NULL);
        g_clear_pointer(&devices, g_ptr_array_unref);
    }
    g_thread_join(thread);
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    if (size == 0) {
        return 0;
    }
    switch (data[0] % 3) {
    case 0:
        talk_to_server(data + 1, size - 1);
        break;
    case 1:
        listen_to_server(data + 1, size - 1, true);
        break;
    default:
        listen_to_server(data + 1, size - 1, false);
        break;
    }
    return 0;
}
