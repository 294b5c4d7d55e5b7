/* One keymap on two chips: built, flashed by each road, started from the bytes that were
 * flashed, and played. Then the keyboard as a USB device for somebody else's host. */
#include "support.h"

#include "uvrek/bootloader.h"
#include "uvrek/flash.h"
#include "uvrek/gadget.h"
#include "uvrek/usbip.h"

#include <gio/gio.h>
#include <poll.h>
#include <string.h>

/* ---- bootloaders of all kinds, in a thread of their own --------------------------------- */

struct board {
    const struct uvk_chip *chip;
    const char *boot;
    struct uvk_terminal *terminal;
    struct uvk_bootloader serial;
    struct uvk_drive *drive;
    struct uvk_dfu_boot *dfu;
    struct uvk_usbip *server;
    char *place; /* the port, the folder, or the server's port */
    gint stop;
};

static void serve_usb(struct board *board)
{
    struct pollfd files[UVK_USBIP_FILES];
    unsigned count = uvk_usbip_files(board->server, files);

    (void)poll(files, count, 5);
    uvk_usbip_serve(board->server);
}

static gpointer serve(gpointer data)
{
    struct board *board = data;

    while (!g_atomic_int_get(&board->stop)) {
        if (board->terminal != NULL) {
            struct pollfd ready = {uvk_terminal_file(board->terminal), POLLIN, 0};
            if (poll(&ready, 1, 5) > 0) {
                uvk_terminal_serve(board->terminal, &board->serial);
            }
        } else if (board->drive != NULL) {
            g_usleep(1000);
            uvk_drive_serve(board->drive);
        } else {
            serve_usb(board);
        }
    }
    return NULL;
}

static void open_board(struct board *board, const struct uvk_chip *chip, const char *boot)
{
    const struct uvk_drive_faults whole = {.full = false};
    const struct uvk_dfu_faults good = {.after = 0};
    const struct uvk_dfu_kind kind = {
        .transfer = 1024, .vendor = chip->dfu_vendor, .product = chip->dfu_product};
    GError *error = NULL;

    memset(board, 0, sizeof *board);
    board->chip = chip;
    board->boot = boot;
    board->place = g_build_filename(scratch_folder(), boot, NULL);
    uvk_bootloader_init(&board->serial, chip);
    if (strcmp(boot, "serial") == 0) {
        board->terminal = uvk_terminal_new(board->place, &error);
    } else if (strcmp(boot, "uf2") == 0) {
        board->drive = uvk_drive_new(board->place, chip, &whole);
        (void)uvk_drive_show(board->drive, &error);
    } else {
        g_free(board->place);
        board->dfu = uvk_dfu_boot_new(chip, &kind, &good);
        board->server = uvk_usbip_new("0", &error);
        board->place = g_strdup_printf("%u", uvk_usbip_port(board->server));
        uvk_usbip_plug(board->server, uvk_dfu_boot_gadget(board->dfu));
    }
    assert_null(error);
}

static void close_board(struct board *board)
{
    uvk_terminal_free(board->terminal);
    uvk_drive_free(board->drive);
    uvk_dfu_boot_free(board->dfu);
    uvk_usbip_free(board->server);
    uvk_bootloader_clear(&board->serial);
    g_free(board->place);
}

static const uint8_t *flash_of(const struct board *board)
{
    return board->drive != NULL ? uvk_drive_flash(board->drive)
           : board->dfu != NULL ? uvk_dfu_boot_flash(board->dfu)
                                : board->serial.flash;
}

static void flash_board(struct board *board, const struct uvk_firmware *firmware)
{
    const struct uvk_flash_options options = {
        .port = board->terminal != NULL ? board->place : NULL,
        .drive = board->drive != NULL ? board->place : NULL,
        .usbip = board->server != NULL ? board->place : NULL,
        .patience = 10};
    GThread *thread = g_thread_new("board", serve, board);
    GError *error = NULL;
    bool good =
        uvk_flash(board->chip, board->boot, firmware->code, firmware->size, &options, &error);

    g_atomic_int_set(&board->stop, 1);
    g_thread_join(thread);
    if (!good) {
        fail_msg("%s: %s", board->boot, error->message);
    }
}

/* ---- one keymap ------------------------------------------------------------------------- */

static void play_all(struct uvk_program *program, const uint8_t *flash)
{
    const struct uvk_rig_options options = {.seed = 1, .bounce = UVK_BOUNCE_DEFAULT};
    const struct uvk_chip *chip = program->board->chip;
    unsigned count = 0;

    for (const struct uvk_play *play = program->plays; play != NULL; play = play->next) {
        struct uvk_outcome outcome = {.play = NULL};
        GError *error = NULL;
        struct uvk_rig *rig = uvk_rig_chip(program, flash, chip->flash - chip->bootloader, NULL,
                                           &options, &error);
        assert_null(error);
        /* without symbols nobody sees layers: such a play says so by failing */
        if (uvk_play_run(program, rig, play, &outcome, &error) != 1) {
            fail_msg("%s: %s instead of %s", play->name, outcome.got, outcome.expected);
        }
        uvk_outcome_clear(&outcome);
        uvk_rig_free(rig);
        count++;
    }
    assert_true(count >= 4);
}

static void every_road_brings_what_plays(void **state)
{
    static const struct {
        const char *chip, *boot;
    } roads[] = {{"atmega32u4", "serial"}, {"atmega32u4", "dfu"}, {"rp2040", "uf2"}};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(roads); i++) {
        struct uvk_program *program = uvk_program_load("tests/plays/noisy.uvk");
        char *cache = g_build_filename(scratch_folder(), "cache", NULL);
        const struct uvk_build_options options = {.cache = cache};
        struct uvk_firmware *firmware;
        struct board board;
        move_to_chip(program, roads[i].chip);
        firmware = uvk_build(program, &options, NULL);
        assert_non_null(firmware);
        open_board(&board, program->board->chip, roads[i].boot);
        flash_board(&board, firmware);
        assert_memory_equal(flash_of(&board), firmware->code, firmware->size);
        play_all(program, flash_of(&board));
        close_board(&board);
        uvk_firmware_free(firmware);
        uvk_program_free(program);
        g_free(cache);
    }
}

/* ---- several bootloaders ---------------------------------------------------------------- */

static void put_device(GByteArray *out, const char *name)
{
    uint8_t device[UVK_USBIP_DEVICE_SIZE] = {0};
    const uint8_t interface[UVK_USBIP_INTERFACE] = {UVK_DFU_CLASS, UVK_DFU_SUBCLASS,
                                                    UVK_DFU_PROTOCOL};

    memcpy(device + UVK_USBIP_AT_NAME, name, strlen(name));
    uvk_put_big16(device + UVK_USBIP_AT_VENDOR, 0x03EB);
    uvk_put_big16(device + UVK_USBIP_AT_PRODUCT, 0x2FF4);
    device[UVK_USBIP_AT_INTERFACES] = 1;
    g_byte_array_append(out, device, sizeof device);
    g_byte_array_append(out, interface, sizeof interface);
}

struct teller {
    GSocketListener *listener;
    GCancellable *end;
};

/* Says to everybody that two bootloaders are there, and gives none. */
static gpointer tell_of_two(gpointer data)
{
    const struct teller *teller = data;
    GByteArray *out = g_byte_array_new();
    GSocketConnection *connection;
    const uint8_t head[12] = {1, 0x11, 0, 5, [11] = 2};

    g_byte_array_append(out, head, sizeof head);
    put_device(out, "1-1");
    put_device(out, "1-4.2");
    while ((connection = g_socket_listener_accept(teller->listener, NULL, teller->end, NULL)) !=
           NULL) {
        (void)g_output_stream_write_all(g_io_stream_get_output_stream(G_IO_STREAM(connection)),
                                        out->data, out->len, NULL, NULL, NULL);
        g_object_unref(connection);
    }
    g_byte_array_free(out, TRUE);
    return NULL;
}

static void one_of_several_has_to_be_named(void **state)
{
    static const struct {
        const char *to, *message;
    } tries[] = {
        {NULL, "2 bootloaders are there; nothing was written. Say which one is meant:\n"
               "  --to 1-1\n  --to 1-4.2"},
        {"1-4.2", "the USB/IP server at "}, /* found, and then not given */
        {"1-7", "no bootloader appeared within 0 s; nothing was written"},
    };
    struct teller teller = {g_socket_listener_new(), g_cancellable_new()};
    guint16 port = g_socket_listener_add_any_inet_port(teller.listener, NULL, NULL);
    char *where = g_strdup_printf("127.0.0.1:%u", port);
    GThread *thread = g_thread_new("two", tell_of_two, &teller);
    uint8_t code[16] = {0};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(tries); i++) {
        const struct uvk_flash_options options = {.usbip = where, .to = tries[i].to};
        GError *error = NULL;
        assert_false(uvk_flash(uvk_chip_named("atmega32u4"), "dfu", code, sizeof code, &options,
                               &error));
        assert_ptr_equal(strstr(error->message, tries[i].message), error->message);
        g_error_free(error);
    }
    g_cancellable_cancel(teller.end);
    g_thread_join(thread);
    g_object_unref(teller.listener);
    g_object_unref(teller.end);
    g_free(where);
}

/* ---- the keyboard itself ---------------------------------------------------------------- */

struct exported {
    GThread *thread;
    struct uvk_rig *rig;
    struct uvk_usbip *server;
    gint stop, presses;
};

/* The keyboard's time goes on while it is served; a finger presses when it is told to. */
static gpointer run_keyboard(gpointer data)
{
    struct exported *exported = data;

    while (!g_atomic_int_get(&exported->stop)) {
        struct pollfd files[UVK_USBIP_FILES];
        unsigned count = uvk_usbip_files(exported->server, files);
        (void)poll(files, count, 1);
        uvk_usbip_serve(exported->server);
        if (g_atomic_int_get(&exported->presses) > 0) {
            g_atomic_int_add(&exported->presses, -1);
            uvk_rig_press(exported->rig, 0, true);
        }
        (void)uvk_rig_run(exported->rig, 1000, NULL);
    }
    return NULL;
}

static void reports_reach_another_host(struct uvk_cable *cable, struct exported *exported)
{
    const struct uvk_request configure = {0x00, 9, 1, 0};
    uint8_t report[64];
    size_t size = 0;

    assert_int_equal(uvk_cable_ask(cable, &configure, NULL, &size, 2000), UVK_CABLE_DONE);
    size = sizeof report;
    assert_int_equal(cable->receive(cable->self, 0x82, report, &size, 30), UVK_CABLE_LATE);
    g_atomic_int_set(&exported->presses, 1);
    size = sizeof report;
    assert_int_equal(cable->receive(cable->self, 0x82, report, &size, 5000), UVK_CABLE_DONE);
    assert_true(size > 3);
    assert_int_equal(report[0], UVK_REPORT_KEYS);
    assert_int_equal(report[2], 0x10); /* usage 4, a */
}

static void keyboard_is_a_device_for_others(void **state)
{
    struct uvk_program *program = good_program(KEYMAP9("a b c; d e f; g h i"));
    struct uvk_build_options build = {.folder = NULL};
    const struct uvk_rig_options options = {.seed = 1, .bounce = UVK_BOUNCE_DEFAULT};
    struct uvk_firmware *firmware = uvk_build(program, &build, NULL);
    struct exported exported = {.stop = 0};
    struct uvk_gadget gadget;
    struct uvk_cable *cable;
    GError *error = NULL;
    char *where;
    char *title;

    (void)state;
    exported.rig =
        uvk_rig_chip(program, firmware->code, firmware->size, NULL, &options, &error);
    assert_null(error);
    exported.server = uvk_usbip_new("0", &error);
    gadget = uvk_rig_gadget(exported.rig);
    uvk_usbip_plug(exported.server, &gadget);
    where = g_strdup_printf("%u", uvk_usbip_port(exported.server));
    exported.thread = g_thread_new("keyboard", run_keyboard, &exported);
    cable = uvk_cable_open(where, "1-1", 0, &error);
    assert_null(error);
    title = uvk_cable_string(cable, 2);
    assert_string_equal(title, "nine");
    g_free(title);
    reports_reach_another_host(cable, &exported);
    uvk_cable_close(cable);
    g_atomic_int_set(&exported.stop, 1);
    g_thread_join(exported.thread);
    uvk_usbip_free(exported.server);
    uvk_rig_free(exported.rig);
    uvk_firmware_free(firmware);
    uvk_program_free(program);
    g_free(where);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(every_road_brings_what_plays),
        cmocka_unit_test(one_of_several_has_to_be_named),
        cmocka_unit_test(keyboard_is_a_device_for_others),
    };

    return cmocka_run_group_tests(tests, command_line_set_up, NULL);
}
