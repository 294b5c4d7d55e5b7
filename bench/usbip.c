/* usbip.c - the server's end of usbip.h: who is connected, and what they are sent. What they
 * ask for is in urbs.c. */
#include "server.h"

#include "uvrek/usbip.h"

#include <gio/gio.h>
#include <netinet/in.h>
#include <netinet/tcp.h>
#include <string.h>

#define LOCALHOST   "127.0.0.1"
#define BACKLOG     4
#define UNSENT_MOST (1u << 20) /* bytes that a client may leave unread */

/* ---- connections ------------------------------------------------------------------------ */

static void drop(struct uvk_usbip *server, struct client *client)
{
    if (client->socket == NULL) {
        return;
    }
    (void)g_socket_close(client->socket, NULL);
    g_clear_object(&client->socket);
    g_byte_array_set_size(client->heard, 0);
    g_byte_array_set_size(client->unsent, 0);
    client->waiting = 0;
    if (server->taker == client) {
        server->taker = NULL;
        if (server->gadget != NULL && server->gadget->released != NULL) {
            server->gadget->released(server->gadget->self);
        }
    }
}

void uvk_usbip_plug(struct uvk_usbip *server, const struct uvk_gadget *gadget)
{
    if (server->taker != NULL) {
        struct client *client = server->taker;
        server->taker = NULL; /* it is not the host who lets it go */
        drop(server, client);
    }
    server->gadget = gadget;
    server->number++; /* another device */
}

bool uvk_usbip_is_taken(const struct uvk_usbip *server)
{
    return server->taker != NULL;
}

static GSocketAddress *address_of(const char *where)
{
    const char *colon = strrchr(where, ':');
    char *host = colon != NULL ? g_strndup(where, (gsize)(colon - where)) : g_strdup(LOCALHOST);
    const char *number = colon != NULL ? colon + 1 : where;
    guint64 port = 0;
    GSocketAddress *address = NULL;

    if (g_ascii_string_to_unsigned(number, 10, 0, UINT16_MAX, &port, NULL)) {
        address = g_inet_socket_address_new_from_string(host, (guint)port);
    }
    g_free(host);
    return address;
}

static bool listen_at(struct uvk_usbip *server, const char *where, GError **error)
{
    GSocketAddress *address = address_of(where);
    GError *reason = NULL;
    bool good = false;

    if (address != NULL) {
        server->socket = g_socket_new(g_socket_address_get_family(address),
                                      G_SOCKET_TYPE_STREAM, G_SOCKET_PROTOCOL_TCP, &reason);
        good = server->socket != NULL && g_socket_bind(server->socket, address, TRUE, &reason);
    }
    if (good) {
        g_socket_set_blocking(server->socket, FALSE);
        g_socket_set_listen_backlog(server->socket, BACKLOG);
        good = g_socket_listen(server->socket, &reason);
    }
    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot listen at %s: %s", where,
                    reason != NULL ? reason->message
                                   : "it is to be PORT, or a numeric ADDRESS:PORT");
    }
    g_clear_error(&reason);
    g_clear_object(&address);
    return good;
}

struct uvk_usbip *uvk_usbip_new(const char *where, GError **error)
{
    struct uvk_usbip *server = g_new0(struct uvk_usbip, 1);

    for (unsigned i = 0; i < CLIENTS; i++) {
        server->clients[i].heard = g_byte_array_new();
        server->clients[i].unsent = g_byte_array_new();
    }
    if (!listen_at(server, where, error)) {
        uvk_usbip_free(server);
        return NULL;
    }
    return server;
}

void uvk_usbip_free(struct uvk_usbip *server)
{
    if (server == NULL) {
        return;
    }
    server->gadget = NULL;
    for (unsigned i = 0; i < CLIENTS; i++) {
        drop(server, &server->clients[i]);
        g_byte_array_free(server->clients[i].heard, TRUE);
        g_byte_array_free(server->clients[i].unsent, TRUE);
    }
    g_clear_object(&server->socket);
    g_free(server);
}

unsigned uvk_usbip_port(const struct uvk_usbip *server)
{
    GSocketAddress *address = g_socket_get_local_address(server->socket, NULL);
    unsigned port = 0;

    if (address != NULL) {
        port = g_inet_socket_address_get_port(G_INET_SOCKET_ADDRESS(address));
        g_object_unref(address);
    }
    return port;
}

/* ---- bytes ------------------------------------------------------------------------------ */

static void accept_one(struct uvk_usbip *server)
{
    GSocket *socket = g_socket_accept(server->socket, NULL, NULL);

    for (unsigned i = 0; socket != NULL && i < CLIENTS; i++) {
        if (server->clients[i].socket == NULL) {
            g_socket_set_blocking(socket, FALSE);
            (void)g_socket_set_option(socket, IPPROTO_TCP, TCP_NODELAY, 1, NULL);
            server->clients[i].socket = socket;
            return;
        }
    }
    g_clear_object(&socket); /* too many at once */
}

/* False: the client has gone. */
static bool hear(struct client *client)
{
    uint8_t bytes[4096];
    gssize count;

    if (!(g_socket_condition_check(client->socket, G_IO_IN | G_IO_HUP | G_IO_ERR) &
          (G_IO_IN | G_IO_HUP | G_IO_ERR))) {
        return true;
    }
    count = g_socket_receive(client->socket, (char *)bytes, sizeof bytes, NULL, NULL);
    if (count > 0) {
        g_byte_array_append(client->heard, bytes, (guint)count);
    }
    return count > 0;
}

static bool send_some(struct client *client)
{
    GError *error = NULL;
    gssize count;
    bool good;

    if (client->unsent->len == 0) {
        return true;
    }
    count = g_socket_send(client->socket, (const char *)client->unsent->data,
                          client->unsent->len, NULL, &error);
    good = count > 0 || g_error_matches(error, G_IO_ERROR, G_IO_ERROR_WOULD_BLOCK);
    g_clear_error(&error);
    if (count > 0) {
        g_byte_array_remove_range(client->unsent, 0, (guint)count);
    }
    return good && client->unsent->len <= UNSENT_MOST;
}

/* False: the client is to be disconnected. */
static bool serve_client(struct uvk_usbip *server, struct client *client)
{
    return hear(client) && client_answer(server, client) && send_some(client);
}

unsigned uvk_usbip_files(const struct uvk_usbip *server, struct pollfd *files)
{
    unsigned count = 1;

    files[0] = (struct pollfd){g_socket_get_fd(server->socket), POLLIN, 0};
    for (unsigned i = 0; i < CLIENTS; i++) {
        const struct client *client = &server->clients[i];
        if (client->socket != NULL) {
            short events = client->unsent->len > 0 ? POLLIN | POLLOUT : POLLIN;
            files[count++] = (struct pollfd){g_socket_get_fd(client->socket), events, 0};
        }
    }
    return count;
}

void uvk_usbip_serve(struct uvk_usbip *server)
{
    if (g_socket_condition_check(server->socket, G_IO_IN) & G_IO_IN) {
        accept_one(server);
    }
    for (unsigned i = 0; i < CLIENTS; i++) {
        struct client *client = &server->clients[i];
        if (client->socket != NULL && !serve_client(server, client)) {
            drop(server, client);
        }
    }
}
