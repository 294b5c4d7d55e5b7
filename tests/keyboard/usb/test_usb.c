/* The USB device by itself, on a controller of the test's: what the host would see. */
#include "uvrek/usb.h"

#include <setjmp.h>
#include <stdarg.h>
#include <stddef.h>
#include <string.h>

#include <cmocka.h>

/* The controller: what was put and sent, endpoint by endpoint. */
static struct {
    uint8_t bytes[UVK_ENDPOINTS][64];
    int size[UVK_ENDPOINTS]; /* of the packet that waits for the host; -1: none */
    bool halted[UVK_ENDPOINTS];
    bool refused, expects, opened, asleep, woke;
    uint8_t address;
} wire;

static struct uvk_engine engine;
/* As much of an image as is asked for here: its header, with room for live changes. */
static const uint8_t image[20] = {'U', 'V', 'K', 'I', 3, 16, 20, [17] = 64};
static struct uvk_usb usb;

bool uvk_endpoint_is_free(uint8_t endpoint)
{
    return wire.size[endpoint] < 0;
}

void uvk_endpoint_put(uint8_t endpoint, uint8_t at, uint8_t byte)
{
    assert_true(at < sizeof wire.bytes[0]);
    wire.bytes[endpoint][at] = byte;
}

void uvk_endpoint_send(uint8_t endpoint, uint8_t size)
{
    assert_true(wire.size[endpoint] < 0);
    wire.size[endpoint] = size;
}

void uvk_endpoint_expect(void)
{
    wire.expects = true;
}

void uvk_endpoint_refuse(void)
{
    wire.refused = true;
}

void uvk_endpoint_halt(uint8_t endpoint, bool on)
{
    assert_in_range(endpoint, 1, UVK_ENDPOINTS - 1);
    wire.halted[endpoint] = on;
}

void uvk_endpoint_open_all(void)
{
    wire.opened = true;
}

void uvk_bus_take_address(uint8_t address)
{
    wire.address = address;
}

void uvk_bus_suspend(void)
{
    wire.asleep = true;
}

void uvk_bus_resume(void)
{
    wire.asleep = false;
}

void uvk_bus_wake_host(void)
{
    wire.woke = true;
}

/* ---- the host --------------------------------------------------------------------------- */

static uint8_t answer[512];

static void setup(uint8_t type, uint8_t code, uint16_t value, uint16_t index, uint16_t length)
{
    const struct uvk_setup packet = {type,           code,
                                     (uint8_t)value, (uint8_t)(value >> 8),
                                     (uint8_t)index, (uint8_t)(index >> 8),
                                     length};

    wire.refused = false;
    wire.expects = false;
    wire.size[0] = -1;
    uvk_usb_setup(&usb, &packet);
}

/* The packet that waits on endpoint 0 is fetched; its size, -1: there is none. */
static int fetch(uint8_t *out)
{
    int size = wire.size[0];

    if (size >= 0) {
        memcpy(out, wire.bytes[0], (size_t)size);
        wire.size[0] = -1;
        uvk_usb_sent(&usb);
    }
    return size;
}

/* A transfer that reads, as a host does it; bytes that came, -1: refused. */
static int get(uint8_t type, uint8_t code, uint16_t value, uint16_t index, uint16_t length)
{
    int sum = 0;
    int size;

    setup(type, code, value, index, length);
    if (wire.refused) {
        assert_int_equal(wire.size[0], -1);
        return -1;
    }
    assert_true(wire.expects);
    do {
        size = fetch(answer + sum);
        assert_in_range(size, 0, UVK_EP0_SIZE);
        sum += size;
    } while (size == UVK_EP0_SIZE && sum < length);
    assert_int_equal(wire.size[0], -1); /* nothing more than was asked for */
    uvk_usb_received(&usb, 0, 0);
    return sum;
}

static bool put(uint8_t type, uint8_t code, uint16_t value, uint16_t index)
{
    uint8_t none[UVK_EP0_SIZE];

    setup(type, code, value, index, 0);
    return !wire.refused && fetch(none) == 0;
}

static int plug_in(void **state)
{
    (void)state;
    memset(&wire, 0, sizeof wire);
    memset(wire.size, 0xFF, sizeof wire.size);
    memset(&usb, 0, sizeof usb);
    usb.engine = &engine;
    engine.image.bytes = image;
    engine.pair.leads = true;
    uvk_usb_reset(&usb);
    return 0;
}

static void configure(void)
{
    assert_true(put(0x00, 5, 9, 0));
    assert_true(put(0x00, 9, 1, 0));
}

/* ---- what it says ------------------------------------------------------------------------ */

static void descriptors_are_found_by_type_and_index(void **state)
{
    (void)state;
    assert_int_equal(get(0x80, 6, 0x0100, 0, 64), 18);
    assert_int_equal(answer[8] | answer[9] << 8, 0x1209);
    assert_int_equal(get(0x80, 6, 0x0200, 0, 9), 9);
    assert_int_equal(answer[2] | answer[3] << 8, 91);
    assert_int_equal(get(0x80, 6, 0x0200, 0, 512), 91);
    assert_int_equal(answer[4], UVK_USB_INTERFACES);
    assert_int_equal(get(0x80, 6, 0x0300, 0x0409, 255), 4);
    assert_int_equal(get(0x80, 6, 0x0301, 0x0409, 255), 4);
    assert_int_equal(answer[2], 'S');
    assert_int_equal(get(0x80, 6, 0x0302, 0x0409, 255), 2);  /* a board without a title */
    assert_int_equal(get(0x80, 6, 0x0303, 0x0409, 255), 18); /* the serial number */
    assert_int_equal(answer[2], '0');
    assert_int_equal(get(0x80, 6, 0x0304, 0x0409, 255), -1);
    assert_int_equal(get(0x80, 6, 0x0101, 0, 64), -1);
    assert_int_equal(get(0x80, 6, 0x0201, 0, 64), -1);
    assert_int_equal(get(0x80, 6, 0x0400, 0, 64), -1); /* interfaces are not asked for alone */
    assert_int_equal(get(0x80, 6, 0x0600, 0, 10), -1); /* it knows no high speed */
}

static void descriptors_of_an_interface_are_asked_of_it(void **state)
{
    (void)state;
    for (uint8_t interface = 0; interface < UVK_USB_INTERFACES; interface++) {
        uint16_t length;
        (void)uvk_report_descriptor(interface, &length);
        assert_int_equal(get(0x81, 6, 0x2100, interface, 64), 9);
        assert_int_equal(answer[7] | answer[8] << 8, length);
        assert_int_equal(get(0x81, 6, 0x2200, interface, 512), length);
    }
    assert_int_equal(get(0x81, 6, 0x2100, 3, 64), -1);
    assert_int_equal(get(0x81, 6, 0x2200, 3, 512), -1);
    assert_int_equal(get(0x80, 6, 0x2100, 0, 64), -1);
    assert_int_equal(get(0x80, 6, 0x2200, 0, 64), -1);
    assert_int_equal(get(0x81, 6, 0x0100, 0, 64), -1);
}

/* USB 2.0, 8.5.3.2: what is shorter than asked for and fills its last packet ends with an empty
 * one; what is as long as asked for does not. */
static void full_last_packet_is_told_to_be_the_last(void **state)
{
    uint16_t length;
    uint8_t packet[UVK_EP0_SIZE];

    (void)state;
    (void)uvk_report_descriptor(0, &length);
    assert_int_equal(length % UVK_EP0_SIZE, 0);
    setup(0x81, 6, 0x2200, 0, (uint16_t)(length + 1));
    for (uint16_t sent = 0; sent < length; sent = (uint16_t)(sent + UVK_EP0_SIZE)) {
        assert_int_equal(fetch(packet), UVK_EP0_SIZE);
    }
    assert_int_equal(fetch(packet), 0);
    assert_int_equal(fetch(packet), -1);
    setup(0x81, 6, 0x2200, 0, length);
    for (uint16_t sent = 0; sent < length; sent = (uint16_t)(sent + UVK_EP0_SIZE)) {
        assert_int_equal(fetch(packet), UVK_EP0_SIZE);
    }
    assert_int_equal(fetch(packet), -1);
}

/* ---- what it does ------------------------------------------------------------------------ */

static void address_counts_when_it_is_confirmed(void **state)
{
    uint8_t none[UVK_EP0_SIZE];

    (void)state;
    setup(0x00, 5, 42, 0, 0);
    assert_int_equal(wire.address, 0);
    assert_int_equal(fetch(none), 0);
    assert_int_equal(wire.address, 42);
}

static void address_that_is_not_confirmed_is_forgotten(void **state)
{
    (void)state;
    setup(0x00, 5, 42, 0, 0);
    assert_int_equal(get(0x80, 8, 0, 0, 1), 1);
    assert_int_equal(wire.address, 0);
}

static void endpoints_open_with_the_configuration(void **state)
{
    uint8_t report[8] = {1, 2, 3, 4, 5, 6, 7, 8};

    (void)state;
    assert_false(uvk_usb_send(&usb, 0, report, sizeof report));
    configure();
    assert_true(wire.opened);
    assert_int_equal(get(0x80, 8, 0, 0, 1), 1);
    assert_int_equal(answer[0], 1);
    assert_true(uvk_usb_send(&usb, 0, report, sizeof report));
    assert_int_equal(wire.size[1], sizeof report);
    assert_memory_equal(wire.bytes[1], report, sizeof report);
    assert_false(uvk_usb_send(&usb, 0, report, sizeof report)); /* until it is fetched */
    assert_true(uvk_usb_send(&usb, 1, report, sizeof report));
    assert_false(put(0x00, 9, 2, 0)); /* there is one only */
}

/* USB 2.0, 9.1.1.5: whoever configures it again finds it as after the first time. */
static void configured_again_it_begins_anew(void **state)
{
    uint8_t report[8] = {0};

    (void)state;
    configure();
    assert_true(put(0x02, 3, 0, 0x81));
    wire.opened = false;
    assert_true(put(0x00, 9, 1, 0));
    assert_true(wire.opened);
    assert_true(uvk_usb_send(&usb, 0, report, sizeof report));
    assert_true(put(0x00, 9, 0, 0));
    assert_false(uvk_usb_send(&usb, 1, report, sizeof report));
}

static void halted_endpoint_sends_nothing(void **state)
{
    uint8_t report[8] = {0};

    (void)state;
    configure();
    assert_true(put(0x02, 3, 0, 0x81));
    assert_true(wire.halted[1]);
    assert_false(uvk_usb_send(&usb, 0, report, sizeof report));
    assert_int_equal(get(0x82, 0, 0, 0x81, 2), 2);
    assert_int_equal(answer[0], 1);
    assert_true(put(0x02, 1, 0, 0x81));
    assert_false(wire.halted[1]);
    assert_true(uvk_usb_send(&usb, 0, report, sizeof report));
    assert_false(put(0x02, 3, 0, 0x85));
    assert_true(put(0x02, 3, 0, 0x80)); /* of endpoint 0 it means nothing (USB 2.0, 9.4.5) */
}

static void lamps_come_as_a_report(void **state)
{
    uint8_t none[UVK_EP0_SIZE];

    (void)state;
    configure();
    setup(0x21, 9, 0x0200, 0, 1);
    assert_true(wire.expects);
    assert_int_equal(wire.size[0], -1); /* not confirmed before the data */
    uvk_usb_received(&usb, 3, 1);
    assert_int_equal(fetch(none), 0);
    assert_int_equal(usb.lamps, 3);
    assert_int_equal(get(0xA1, 1, 0x0200, 0, 1), 1);
    assert_int_equal(answer[0], 3);
    setup(0x21, 9, 0x0200, 0, 1);
    uvk_usb_received(&usb, 7, 0); /* an empty packet is no report */
    assert_int_equal(usb.lamps, 3);
    setup(0x21, 9, 0x0200, 0, 257);
    assert_true(wire.refused);
    setup(0x21, 9, 0x0200, 1, 1);
    assert_true(wire.refused);
}

static void idle_rate_counts_in_four_milliseconds(void **state)
{
    (void)state;
    configure();
    assert_true(put(0x21, 0x0A, 0x0500, 1));
    assert_int_equal(get(0xA1, 2, 0, 1, 1), 1);
    assert_int_equal(answer[0], 5);
    engine.reports.dirty = 0;
    for (unsigned ms = 0; ms < 19; ms++) {
        uvk_usb_tick(&usb);
        assert_int_equal(engine.reports.dirty, 0);
    }
    uvk_usb_tick(&usb);
    assert_int_equal(engine.reports.dirty, 1u << UVK_REPORT_KEYS);
    engine.reports.dirty = 0;
}

static void sleeping_host_is_woken_when_it_allows_it(void **state)
{
    uint8_t report[8] = {0};

    (void)state;
    configure();
    uvk_usb_suspend(&usb);
    assert_true(wire.asleep);
    assert_false(uvk_usb_send(&usb, 0, report, sizeof report));
    uvk_usb_wake_host(&usb);
    assert_false(wire.woke);
    uvk_usb_resume(&usb);
    assert_false(wire.asleep);
    assert_true(put(0x00, 3, 1, 0));
    assert_int_equal(get(0x80, 0, 0, 0, 2), 2);
    assert_int_equal(answer[0], 2);
    uvk_usb_wake_host(&usb);
    assert_false(wire.woke); /* it is awake */
    uvk_usb_suspend(&usb);
    uvk_usb_wake_host(&usb);
    assert_true(wire.woke);
    assert_false(wire.asleep);
}

static void reset_of_the_bus_forgets(void **state)
{
    (void)state;
    configure();
    assert_true(put(0x21, 0x0B, 0, 0));
    assert_true(put(0x00, 3, 1, 0));
    assert_true(put(0x02, 3, 0, 0x82));
    uvk_usb_reset(&usb);
    assert_ptr_equal(usb.engine, &engine);
    assert_int_equal(usb.configuration, 0);
    assert_int_equal(usb.protocol, 1);
    assert_false(usb.may_wake);
    assert_false(usb.halted[2]);
}

/* ---- anything --------------------------------------------------------------------------- */

/* Whom the standards let a request mean; all else is refused. */
static void requests_to_the_wrong_one_are_refused(void **state)
{
    static const uint8_t requests[][3] = {
        {0x01, 5, 1}, {0x02, 9, 1},    {0x81, 8, 1},    {0x00, 0x0B, 0}, {0x80, 0x0A, 1},
        {0x22, 9, 1}, {0x20, 0x0A, 0}, {0xA0, 0x03, 1}, {0xA2, 0x01, 1}, {0x80, 0x10, 1},
        {0x40, 5, 1}, {0xC0, 6, 1},    {0x00, 0x15, 1}, {0x21, 0x19, 1}, {0x9F, 0, 2},
    };

    (void)state;
    for (size_t i = 0; i < sizeof requests / sizeof requests[0]; i++) {
        setup(requests[i][0], requests[i][1], 0, 0, requests[i][2]);
        if (!wire.refused) {
            fail_msg("%02x %02x is carried out", requests[i][0], requests[i][1]);
        }
    }
}

/* Every type and code, with values of all sorts: refused, or ended as a transfer has to. */
static void no_request_confuses_it(void **state)
{
    static const uint16_t values[] = {0, 1, 2, 0x0101, 0x0200, 0x2100, 0x2200, 0x0302, 0xFFFF};
    uint8_t packet[UVK_EP0_SIZE];
    unsigned carried_out = 0;

    (void)state;
    for (unsigned which = 0; which < 65536; which++) {
        uint16_t value = values[which % 9];
        uint16_t index = values[which / 9 % 9];
        uint16_t length = values[which / 81 % 9];
        setup((uint8_t)(which >> 8), (uint8_t)which, value, index, length);
        if (wire.refused) {
            assert_int_equal(wire.size[0], -1);
            continue;
        }
        carried_out++;
        for (unsigned packets = 0; fetch(packet) >= 0; packets++) {
            assert_true(packets * UVK_EP0_SIZE <= length + 0u);
        }
        uvk_usb_received(&usb, 0, (uint8_t)(length & 1));
        (void)fetch(packet);
        assert_int_equal(usb.stage, UVK_CONTROL_IDLE);
        uvk_usb_suspend(&usb);
        uvk_usb_resume(&usb);
    }
    assert_true(carried_out > 20);
}

/* ---- the live door ----------------------------------------------------------------------- */

static void ask_who(uint8_t number)
{
    uint8_t request[UVK_DOOR_BYTES] = {number, UVK_DOOR_WHO};

    uvk_live_came(&usb, request, sizeof request);
}

/* What does not fit the endpoint waits; what has another size is no request. */
static void the_door_answers_on_its_endpoint(void **state)
{
    uint8_t request[UVK_DOOR_BYTES] = {1, UVK_DOOR_WHO};

    (void)state;
    uvk_live_start(&usb, NULL, (uvk_image_bytes) "note", 5);
    configure();
    uvk_live_came(&usb, request, 8);
    assert_int_equal(wire.size[UVK_LIVE_IN], -1);
    ask_who(9);
    assert_int_equal(wire.size[UVK_LIVE_IN], UVK_DOOR_BYTES);
    assert_int_equal(wire.bytes[UVK_LIVE_IN][0], 9);
    assert_int_equal(wire.bytes[UVK_LIVE_IN][1], UVK_DOOR_DONE);
    assert_true(uvk_live_is_free(&usb));
    ask_who(10); /* the first answer has not been fetched */
    assert_false(uvk_live_is_free(&usb));
    assert_int_equal(wire.bytes[UVK_LIVE_IN][0], 9);
    wire.size[UVK_LIVE_IN] = -1;
    uvk_live_send(&usb);
    assert_int_equal(wire.bytes[UVK_LIVE_IN][0], 10);
    assert_true(uvk_live_is_free(&usb));
}

/* A host that resets the bus may be another one. */
static void the_door_closes_with_a_reset(void **state)
{
    (void)state;
    uvk_live_start(&usb, NULL, (uvk_image_bytes) "note", 5);
    usb.engine->door.consent.state = UVK_DOOR_IS_OPEN;
    uvk_usb_reset(&usb);
    assert_int_equal(uvk_door_state(usb.engine), UVK_DOOR_CLOSED);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test_setup(descriptors_are_found_by_type_and_index, plug_in),
        cmocka_unit_test_setup(descriptors_of_an_interface_are_asked_of_it, plug_in),
        cmocka_unit_test_setup(full_last_packet_is_told_to_be_the_last, plug_in),
        cmocka_unit_test_setup(address_counts_when_it_is_confirmed, plug_in),
        cmocka_unit_test_setup(address_that_is_not_confirmed_is_forgotten, plug_in),
        cmocka_unit_test_setup(endpoints_open_with_the_configuration, plug_in),
        cmocka_unit_test_setup(configured_again_it_begins_anew, plug_in),
        cmocka_unit_test_setup(halted_endpoint_sends_nothing, plug_in),
        cmocka_unit_test_setup(lamps_come_as_a_report, plug_in),
        cmocka_unit_test_setup(idle_rate_counts_in_four_milliseconds, plug_in),
        cmocka_unit_test_setup(sleeping_host_is_woken_when_it_allows_it, plug_in),
        cmocka_unit_test_setup(reset_of_the_bus_forgets, plug_in),
        cmocka_unit_test_setup(requests_to_the_wrong_one_are_refused, plug_in),
        cmocka_unit_test_setup(no_request_confuses_it, plug_in),
        cmocka_unit_test_setup(the_door_answers_on_its_endpoint, plug_in),
        cmocka_unit_test_setup(the_door_closes_with_a_reset, plug_in),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
