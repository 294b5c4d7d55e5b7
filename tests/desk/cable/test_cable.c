/* USB/IP: the desk's end and the bench's against each other, against a client that others
 * wrote, and each against peers that break the protocol. */
#include "support.h"

#include "uvrek/cable.h"
#include "uvrek/gadget.h"
#include "uvrek/usbip.h"

#include <gio/gio.h>
#include <string.h>

/* ---- a device, and a server with it ----------------------------------------------------- */

static const uint8_t device_bytes[18] = {18,   1,    0,    2,    0,    0, 0, 8, 0x09,
                                         0x12, 0x07, 0x00, 0x34, 0x12, 1, 2, 0, 1};
static const uint8_t configuration_bytes[] = {9, 2, 25, 0, 1, 1, 0, 0x80, 50, 9, 4, 0, 0,
                                              1, 3, 0,  0, 0, 7, 5, 0x81, 3,  8, 0, 1};

struct toy {
    struct uvk_gadget gadget;
    bool deaf;         /* it does not answer */
    unsigned packets;  /* that it has on endpoint 1 */
    uint8_t taken[64]; /* what came last */
    size_t taken_size;
    unsigned released;
};

/* Vendor requests: 1 takes bytes, 2 gives as many as it is asked for, all else is refused. */
static enum uvk_transfer toy_control(void *self, const uint8_t setup[8], uint8_t *data,
                                     size_t *size)
{
    struct toy *toy = self;
    const uint8_t *answer = setup[3] == 1 ? device_bytes : configuration_bytes;
    size_t most = setup[3] == 1 ? sizeof device_bytes : sizeof configuration_bytes;

    if (setup[0] == 0x80 && setup[1] == 6 && setup[3] <= 2) {
        *size = MIN(*size, most);
        memcpy(data, answer, *size);
        return UVK_TRANSFER_DONE;
    }
    if (toy->deaf) {
        return UVK_TRANSFER_FAILED;
    }
    if (setup[0] == 0x40 && setup[1] == 1) {
        toy->taken_size = MIN(*size, sizeof toy->taken);
        memcpy(toy->taken, data, toy->taken_size);
        return UVK_TRANSFER_DONE;
    }
    if (setup[0] == 0xC0 && setup[1] == 2) {
        memset(data, 0x5A, *size);
        return UVK_TRANSFER_DONE;
    }
    return UVK_TRANSFER_STALL;
}

static bool toy_fetch(void *self, unsigned endpoint, uint8_t packet[64], size_t *size)
{
    struct toy *toy = self;

    if (endpoint != 1 || toy->packets == 0) {
        return false;
    }
    memset(packet, (int)toy->packets--, 8);
    *size = 8;
    return true;
}

static void toy_released(void *self)
{
    ((struct toy *)self)->released++;
}

struct bench {
    struct toy toy;
    struct uvk_usbip *server;
    GThread *thread;
    GMutex lock;
    bool stop;
    char *where;
};

static gpointer serve(gpointer data)
{
    struct bench *bench = data;
    bool going = true;

    while (going) {
        struct pollfd files[UVK_USBIP_FILES];
        unsigned count;
        g_mutex_lock(&bench->lock);
        count = uvk_usbip_files(bench->server, files);
        g_mutex_unlock(&bench->lock);
        (void)poll(files, count, 2);
        g_mutex_lock(&bench->lock);
        uvk_usbip_serve(bench->server);
        going = !bench->stop;
        g_mutex_unlock(&bench->lock);
    }
    return NULL;
}

static void bench_begin(struct bench *bench)
{
    GError *error = NULL;

    memset(bench, 0, sizeof *bench);
    g_mutex_init(&bench->lock);
    bench->toy.gadget =
        (struct uvk_gadget){&bench->toy, toy_control, toy_fetch, NULL, toy_released};
    bench->server = uvk_usbip_new("0", &error);
    assert_null(error);
    bench->where = g_strdup_printf("%u", uvk_usbip_port(bench->server));
    uvk_usbip_plug(bench->server, &bench->toy.gadget);
    bench->thread = g_thread_new("server", serve, bench);
}

static void bench_end(struct bench *bench)
{
    g_mutex_lock(&bench->lock);
    bench->stop = true;
    g_mutex_unlock(&bench->lock);
    g_thread_join(bench->thread);
    uvk_usbip_free(bench->server);
    g_mutex_clear(&bench->lock);
    g_free(bench->where);
}

/* Set a member of the toy while nobody looks. */
#define SET(bench, member, value)                                                              \
    do {                                                                                       \
        g_mutex_lock(&(bench).lock);                                                           \
        (bench).toy.member = (value);                                                          \
        g_mutex_unlock(&(bench).lock);                                                         \
    } while (0)

static struct uvk_cable *open_toy(const struct bench *bench)
{
    GError *error = NULL;
    struct uvk_cable *cable = uvk_cable_open(bench->where, "1-1", 0, &error);

    assert_null(error);
    assert_non_null(cable);
    return cable;
}

static enum uvk_cable_result ask(struct uvk_cable *cable, uint8_t type, uint8_t code,
                                 uint8_t *data, size_t *size)
{
    const struct uvk_request request = {type, code, 0, 0};

    return uvk_cable_ask(cable, &request, data, size, 200);
}

/* ---- both ends -------------------------------------------------------------------------- */

static void devices_are_listed(void **state)
{
    struct bench bench;
    GPtrArray *devices;
    const struct uvk_usb_device *device;

    (void)state;
    bench_begin(&bench);
    devices = uvk_usb_devices(bench.where, NULL);
    assert_int_equal(devices->len, 1);
    device = devices->pdata[0];
    assert_string_equal(device->name, "1-1");
    assert_int_equal(device->vendor, 0x1209);
    assert_int_equal(device->product, 7);
    assert_int_equal(device->interface_count, 1);
    assert_int_equal(device->interfaces[0].class_code, 3);
    g_ptr_array_unref(devices);
    g_mutex_lock(&bench.lock);
    uvk_usbip_plug(bench.server, NULL);
    g_mutex_unlock(&bench.lock);
    devices = uvk_usb_devices(bench.where, NULL);
    assert_int_equal(devices->len, 0);
    g_ptr_array_unref(devices);
    bench_end(&bench);
}

/* Debian's own client sees the same. */
static void another_client_lists_them(void **state)
{
    struct bench bench;
    char *command;
    char *output = NULL;
    int status = -1;

    (void)state;
    bench_begin(&bench);
    command = g_strdup_printf("usbip --tcp-port %s list -r 127.0.0.1", bench.where);
    g_setenv("PATH", "/usr/sbin:/usr/bin:/sbin:/bin", TRUE);
    assert_true(g_spawn_command_line_sync(command, &output, NULL, &status, NULL));
    assert_int_equal(status, 0);
    assert_non_null(strstr(output, "1-1: "));
    assert_non_null(strstr(output, "(1209:0007)"));
    assert_non_null(strstr(output, "(03/00/00)"));
    g_free(output);
    g_free(command);
    bench_end(&bench);
}

static void transfers_go_both_ways(void **state)
{
    struct bench bench;
    struct uvk_cable *cable;
    uint8_t bytes[300] = {7, 8, 9};
    size_t size = 3;
    uint8_t *whole;

    (void)state;
    bench_begin(&bench);
    cable = open_toy(&bench);
    assert_int_equal(ask(cable, 0x40, 1, bytes, &size), UVK_CABLE_DONE);
    assert_int_equal(bench.toy.taken_size, 3);
    assert_int_equal(bench.toy.taken[2], 9);
    size = sizeof bytes;
    assert_int_equal(ask(cable, 0xC0, 2, bytes, &size), UVK_CABLE_DONE);
    assert_int_equal(size, sizeof bytes);
    assert_int_equal(bytes[299], 0x5A);
    size = 0;
    assert_int_equal(ask(cable, 0x40, 3, NULL, &size), UVK_CABLE_STALL);
    whole = uvk_cable_configuration(cable, &size);
    assert_int_equal(size, sizeof configuration_bytes);
    g_free(whole);
    uvk_cable_close(cable);
    bench_end(&bench);
}

static void packets_come_in_order_or_late(void **state)
{
    struct bench bench;
    struct uvk_cable *cable;
    uint8_t bytes[64];
    size_t size = sizeof bytes;

    (void)state;
    bench_begin(&bench);
    cable = open_toy(&bench);
    assert_int_equal(cable->receive(cable->self, 0x81, bytes, &size, 20), UVK_CABLE_LATE);
    assert_int_equal(size, 0);
    SET(bench, packets, 2);
    for (unsigned left = 2; left > 0; left--) {
        size = left == 2 ? sizeof bytes : 5; /* never more than asked for */
        assert_int_equal(cable->receive(cable->self, 0x81, bytes, &size, 2000), UVK_CABLE_DONE);
        assert_int_equal(size, left == 2 ? 8 : 5);
        assert_int_equal(bytes[0], left);
    }
    uvk_cable_close(cable);
    bench_end(&bench);
}

/* What is late is taken back, and the next request is answered. */
static void a_deaf_device_is_left_alone(void **state)
{
    struct bench bench;
    struct uvk_cable *cable;
    uint8_t bytes[4];
    size_t size = sizeof bytes;

    (void)state;
    bench_begin(&bench);
    cable = open_toy(&bench);
    SET(bench, deaf, true);
    assert_int_equal(ask(cable, 0xC0, 2, bytes, &size), UVK_CABLE_LATE);
    SET(bench, deaf, false);
    size = sizeof bytes;
    assert_int_equal(ask(cable, 0xC0, 2, bytes, &size), UVK_CABLE_DONE);
    assert_int_equal(size, sizeof bytes);
    uvk_cable_close(cable);
    bench_end(&bench);
}

static void one_host_at_a_time(void **state)
{
    struct bench bench;
    struct uvk_cable *cable;
    GError *error = NULL;
    uint8_t bytes[4];
    size_t size = sizeof bytes;

    (void)state;
    bench_begin(&bench);
    cable = open_toy(&bench);
    assert_null(uvk_cable_open(bench.where, "1-1", 0, &error));
    assert_non_null(strstr(error->message, "somebody else has it"));
    g_clear_error(&error);
    assert_null(uvk_cable_open(bench.where, "1-2", 0, &error));
    g_clear_error(&error);
    /* somebody pulls the cable */
    g_mutex_lock(&bench.lock);
    uvk_usbip_plug(bench.server, NULL);
    g_mutex_unlock(&bench.lock);
    assert_int_equal(ask(cable, 0xC0, 2, bytes, &size), UVK_CABLE_GONE);
    assert_int_equal(ask(cable, 0xC0, 2, bytes, &size), UVK_CABLE_GONE);
    uvk_cable_close(cable);
    assert_int_equal(bench.toy.released, 0);
    g_mutex_lock(&bench.lock);
    uvk_usbip_plug(bench.server, &bench.toy.gadget);
    g_mutex_unlock(&bench.lock);
    uvk_cable_close(open_toy(&bench));
    cable = open_toy(&bench); /* the one before has gone, and that was noticed */
    assert_int_equal(bench.toy.released, 1);
    cable->reset(cable->self);
    uvk_cable_close(cable);
    bench_end(&bench);
}

/* ---- servers that break the protocol
 * --------------------------------------------------------- */

/* What a server says, whatever it is asked; then it closes. */
struct liar {
    const char *what;
    uint8_t bytes[UVK_USBIP_HEADER + UVK_USBIP_DEVICE_SIZE + 64];
    size_t size;
};

struct lying {
    const struct liar *liar;
    GSocketListener *listener;
};

static gpointer lie(gpointer data)
{
    struct lying *lying = data;
    GSocketConnection *connection = g_socket_listener_accept(lying->listener, NULL, NULL, NULL);
    GOutputStream *out = g_io_stream_get_output_stream(G_IO_STREAM(connection));

    (void)g_output_stream_write_all(out, lying->liar->bytes, lying->liar->size, NULL, NULL,
                                    NULL);
    g_object_unref(connection);
    return NULL;
}

static const struct liar liars[] = {
    {"nothing", {0}, 0},
    {"half a header", {1, 0x11, 0}, 3},
    {"another answer", {1, 0x11, 0x12, 0x34, 0, 0, 0, 0, 0, 0, 0, 1}, 12},
    {"a failure", {1, 0x11, 0, 5, 0, 0, 0, 1}, 8},
    {"no count", {1, 0x11, 0, 5, 0, 0, 0, 0}, 8},
    {"billions of devices", {1, 0x11, 0, 5, 0, 0, 0, 0, 0xFF, 0xFF, 0xFF, 0xFF}, 12},
    {"half a device", {1, 0x11, 0, 5, 0, 0, 0, 0, 0, 0, 0, 1, 7, 7, 7}, 15},
    {"no interfaces where some are told",
     {1, 0x11, 0, 5, 0, 0, 0, 0, 0, 0, 0, 1, [12 + UVK_USBIP_AT_INTERFACES] = 9},
     12 + UVK_USBIP_DEVICE_SIZE},
};

static void liars_are_not_believed(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(liars); i++) {
        struct lying lying = {&liars[i], g_socket_listener_new()};
        guint16 port = g_socket_listener_add_any_inet_port(lying.listener, NULL, NULL);
        char *where = g_strdup_printf("127.0.0.1:%u", port);
        GThread *thread = g_thread_new("liar", lie, &lying);
        GError *error = NULL;
        if (uvk_usb_devices(where, &error) != NULL) {
            fail_msg("%s", liars[i].what);
        }
        assert_non_null(strstr(error->message, "the USB/IP server at 127.0.0.1:"));
        g_error_free(error);
        g_thread_join(thread);
        g_object_unref(lying.listener);
        g_free(where);
    }
}

static void nobody_there_is_told(void **state)
{
    static const char *const nowhere[] = {"1", "127.0.0.1:1", "", ":", "127.0.0.1:99999"};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(nowhere); i++) {
        GError *error = NULL;
        assert_null(uvk_usb_devices(nowhere[i], &error));
        assert_non_null(strstr(error->message, "no USB/IP server at"));
        g_error_free(error);
    }
}

static void places_that_cannot_be_are_refused(void **state)
{
    static const char *const places[] = {"",       "x", "70000", "localhost:1", "127.0.0.1:x",
                                         "1.2.3:4"};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(places); i++) {
        GError *error = NULL;
        assert_null(uvk_usbip_new(places[i], &error));
        assert_non_null(strstr(error->message, "cannot listen at"));
        g_error_free(error);
    }
}

/* ---- clients that break the protocol
 * --------------------------------------------------------- */

/* Say BYTES; what comes back until the server closes, at most ROOM bytes. */
static size_t talk(const struct bench *bench, const uint8_t *bytes, size_t size, uint8_t *back,
                   size_t room, bool ends)
{
    GSocketClient *client = g_socket_client_new();
    GSocketConnection *connection = g_socket_client_connect_to_host(
        client, "127.0.0.1", (guint16)atoi(bench->where), NULL, NULL);
    GSocket *socket = g_socket_connection_get_socket(connection);
    gsize got = 0;

    (void)g_output_stream_write_all(g_io_stream_get_output_stream(G_IO_STREAM(connection)),
                                    bytes, size, NULL, NULL, NULL);
    if (ends) {
        (void)g_socket_shutdown(socket, FALSE, TRUE, NULL);
    }
    (void)g_input_stream_read_all(g_io_stream_get_input_stream(G_IO_STREAM(connection)), back,
                                  room, &got, NULL, NULL);
    g_object_unref(connection);
    g_object_unref(client);
    return got;
}

static void put_import(uint8_t *out)
{
    memset(out, 0, UVK_USBIP_HEADER + UVK_USBIP_NAME);
    uvk_put_big16(out, UVK_USBIP_VERSION);
    uvk_put_big16(out + 2, UVK_USBIP_ASK_DEVICE);
    memcpy(out + UVK_USBIP_HEADER, "1-1", 3);
}

#define GIVEN (UVK_USBIP_HEADER + UVK_USBIP_DEVICE_SIZE) /* bytes of the answer */

static void broken_clients_are_disconnected(void **state)
{
    uint8_t said[UVK_USBIP_HEADER + UVK_USBIP_NAME + UVK_USBIP_PACKET];
    uint8_t *packet = said + UVK_USBIP_HEADER + UVK_USBIP_NAME;
    uint8_t back[2000];
    struct bench bench;

    (void)state;
    bench_begin(&bench);
    /* not one word of the protocol */
    assert_int_equal(
        talk(&bench, (const uint8_t *)"GET / HTTP/1.0\r\n\r\n", 18, back, sizeof back, false),
        0);
    /* a transfer of nothing known; one with too much; SETUP and packet that disagree */
    for (unsigned i = 0; i < 3; i++) {
        size_t got;
        memset(said, 0, sizeof said);
        put_import(said);
        uvk_put_big32(packet, i == 0 ? 99 : UVK_USBIP_SUBMIT);
        uvk_put_big32(packet + UVK_USBIP_AT_LENGTH, i == 1 ? 0x7FFFFFFF : 4);
        got = talk(&bench, said, sizeof said, back, sizeof back, false);
        assert_true(got == 0 || got == GIVEN); /* the answer may not have gone out yet */
    }
    /* it goes in the middle of its request */
    for (size_t size = 0; size < sizeof said; size++) {
        size_t got = talk(&bench, said, size, back, sizeof back, true);
        assert_int_equal(got, size >= UVK_USBIP_HEADER + UVK_USBIP_NAME ? GIVEN : 0);
    }
    /* and everybody else is served as before */
    uvk_cable_close(open_toy(&bench));
    bench_end(&bench);
}

/* Random bytes behind a good beginning: the server lives, and answers others. */
static void random_packets_do_no_harm(void **state)
{
    GRand *random = g_rand_new_with_seed(5);
    struct bench bench;

    (void)state;
    bench_begin(&bench);
    for (unsigned round = 0; round < 300; round++) {
        uint8_t said[UVK_USBIP_HEADER + UVK_USBIP_NAME + 4 * UVK_USBIP_PACKET];
        uint8_t back[20000];
        put_import(said);
        for (size_t i = UVK_USBIP_HEADER + UVK_USBIP_NAME; i < sizeof said; i++) {
            said[i] = (uint8_t)(g_rand_boolean(random) ? 0 : g_rand_int_range(random, 0, 4));
        }
        (void)talk(&bench, said, sizeof said, back, sizeof back, true);
    }
    uvk_cable_close(open_toy(&bench));
    g_rand_free(random);
    bench_end(&bench);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(devices_are_listed),
        cmocka_unit_test(another_client_lists_them),
        cmocka_unit_test(transfers_go_both_ways),
        cmocka_unit_test(packets_come_in_order_or_late),
        cmocka_unit_test(a_deaf_device_is_left_alone),
        cmocka_unit_test(one_host_at_a_time),
        cmocka_unit_test(liars_are_not_believed),
        cmocka_unit_test(nobody_there_is_told),
        cmocka_unit_test(places_that_cannot_be_are_refused),
        cmocka_unit_test(broken_clients_are_disconnected),
        cmocka_unit_test(random_packets_do_no_harm),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
