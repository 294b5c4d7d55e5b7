/* Flashing: the protocol against the bench's bootloader, on a wire of memory and on a
 * pseudo-terminal; and everything that can go wrong. */
#include "support.h"

#include "uvrek/bootloader.h"
#include "uvrek/flash.h"

#include <poll.h>
#include <string.h>

#define CODE_SIZE 1001u

static uint8_t code[CODE_SIZE];
static const struct uvk_chip *chip;

static int set_up(void **state)
{
    (void)state;
    chip = uvk_chip_named("atmega32u4");
    for (size_t i = 0; i < CODE_SIZE; i++) {
        code[i] = (uint8_t)(i * 13 + 5);
    }
    return 0;
}

/* ---- a wire of memory ------------------------------------------------------------------- */

struct wire {
    struct uvk_bootloader bootloader;
    GByteArray *answers;
    size_t taken;
    size_t cut_after; /* bytes written until the line is cut; 0: never */
    size_t written;
};

static bool wire_write(void *self, const uint8_t *bytes, size_t size, GError **error)
{
    struct wire *wire = self;

    wire->written += size;
    if (wire->cut_after != 0 && wire->written > wire->cut_after) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, "the line was cut");
        return false;
    }
    uvk_bootloader_feed(&wire->bootloader, bytes, size, wire->answers);
    return true;
}

static bool wire_read(void *self, uint8_t *bytes, size_t size, unsigned timeout, GError **error)
{
    struct wire *wire = self;

    (void)timeout;
    if (wire->answers->len - wire->taken < size) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, "no answer");
        return false;
    }
    memcpy(bytes, wire->answers->data + wire->taken, size);
    wire->taken += size;
    return true;
}

static void wire_close(void *self)
{
    (void)self;
}

/* Flash over the wire; the error message, or NULL when it went good. Freed with g_free. */
static char *flash(struct wire *wire, size_t size, int *status)
{
    struct uvk_line line = {wire, wire_write, wire_read, wire_close};
    struct uvk_flash_options options = {.port = NULL};
    GError *error = NULL;
    char *message = NULL;

    wire->answers = g_byte_array_new();
    wire->taken = 0;
    wire->written = 0;
    *status = 0;
    if (!uvk_avr109_flash(&line, chip, code, size, &options, &error)) {
        message = g_strdup(error->message);
        *status = error->code;
        g_error_free(error);
    }
    g_byte_array_free(wire->answers, TRUE);
    return message;
}

static void assert_flashed(const struct wire *wire)
{
    assert_memory_equal(wire->bootloader.flash, code, CODE_SIZE);
    assert_true(wire->bootloader.left);
}

static void code_arrives_and_the_firmware_starts(void **state)
{
    struct wire wire = {.cut_after = 0};
    int status;

    (void)state;
    uvk_bootloader_init(&wire.bootloader, chip);
    assert_null(flash(&wire, CODE_SIZE, &status));
    assert_flashed(&wire);
    assert_int_equal(wire.bootloader.flash[CODE_SIZE], 0xFF);
    uvk_bootloader_clear(&wire.bootloader);
}

static const struct {
    const char *what;
    struct uvk_bootloader_faults faults;
    size_t cut_after;
    int status;
    const char *message;
} troubles[] = {
    {"other chip", {.other_chip = true}, 0, UVK_NOT_DONE, "another chip is there"},
    {"refused write",
     {.refuses_writes = true},
     0,
     UVK_NOT_DONE,
     "the bootloader refused to write"},
    {"lost bit", {.forgets_a_bit = true}, 0, UVK_NOT_WELL, "does not hold what was written"},
    {"cut at once", {.other_chip = false}, 1, UVK_NOT_DONE, "the line was cut"},
    {"cut while writing", {.other_chip = false}, 400, UVK_NOT_DONE, "the line was cut"},
    {"cut while verifying", {.other_chip = false}, 1060, UVK_NOT_DONE, "the line was cut"},
    {"silent at once", {.silent_after = 1}, 0, UVK_NOT_DONE, "no answer"},
    {"silent later", {.silent_after = 300}, 0, UVK_NOT_DONE, "no answer"},
};

static void trouble_is_told_and_a_second_try_works(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(troubles); i++) {
        struct wire wire = {.cut_after = troubles[i].cut_after};
        int status;
        char *message;
        uvk_bootloader_init(&wire.bootloader, chip);
        wire.bootloader.faults = troubles[i].faults;
        wire.bootloader.flash[0] = 0x42;
        message = flash(&wire, CODE_SIZE, &status);
        assert_non_null(message);
        if (strstr(message, troubles[i].message) == NULL) {
            fail_msg("%s: %s", troubles[i].what, message);
        }
        assert_int_equal(status, troubles[i].status);
        /* after the erase, the keyboard is empty, and that is said */
        assert_int_equal(strstr(message, "holds no whole firmware now") != NULL,
                         wire.bootloader.flash[0] != 0x42);
        assert_false(wire.bootloader.left);
        g_free(message);
        /* the board is reset, the fault is gone */
        uvk_bootloader_clear(&wire.bootloader);
        uvk_bootloader_init(&wire.bootloader, chip);
        wire.cut_after = 0;
        assert_null(flash(&wire, CODE_SIZE, &status));
        assert_flashed(&wire);
        uvk_bootloader_clear(&wire.bootloader);
    }
}

static void note_done(void *data, enum uvk_flash_stage stage, const char *text, size_t done,
                      size_t total)
{
    (void)done;
    (void)total;
    if (stage == UVK_FLASH_DONE) {
        *(char **)data = g_strdup(text != NULL ? text : "nothing");
    }
}

/* Written and verified, and then the bootloader is gone: it worked, with a remark. */
static void no_answer_at_the_end_is_no_failure(void **state)
{
    char *remark = NULL;
    struct wire wire = {.cut_after = 0};
    struct uvk_line line = {&wire, wire_write, wire_read, wire_close};
    struct uvk_flash_options options = {.progress = note_done, .data = &remark};
    GError *error = NULL;
    size_t whole;

    (void)state;
    uvk_bootloader_init(&wire.bootloader, chip);
    wire.answers = g_byte_array_new();
    assert_true(uvk_avr109_flash(&line, chip, code, CODE_SIZE, &options, &error));
    assert_string_equal(remark, "nothing");
    g_clear_pointer(&remark, g_free);
    whole = wire.written;
    for (size_t missing = 1; missing <= 2; missing++) {
        uvk_bootloader_clear(&wire.bootloader);
        uvk_bootloader_init(&wire.bootloader, chip);
        wire.written = 0;
        wire.cut_after = whole - missing;
        assert_true(uvk_avr109_flash(&line, chip, code, CODE_SIZE, &options, &error));
        assert_null(error);
        assert_non_null(strstr(remark, "plug it in again"));
        assert_memory_equal(wire.bootloader.flash, code, CODE_SIZE);
        g_clear_pointer(&remark, g_free);
    }
    g_byte_array_free(wire.answers, TRUE);
    uvk_bootloader_clear(&wire.bootloader);
}

static void another_chip_is_not_touched(void **state)
{
    struct wire wire = {.cut_after = 0};
    int status;

    (void)state;
    uvk_bootloader_init(&wire.bootloader, chip);
    wire.bootloader.faults.other_chip = true;
    wire.bootloader.flash[0] = 0x42;
    g_free(flash(&wire, CODE_SIZE, &status));
    assert_int_equal(wire.bootloader.flash[0], 0x42);
    uvk_bootloader_clear(&wire.bootloader);
}

static void bootloader_pages_are_never_written(void **state)
{
    struct wire wire = {.cut_after = 0};
    size_t room = chip->flash - chip->bootloader;
    uint8_t *large = g_malloc0(chip->flash);
    struct uvk_line line = {&wire, wire_write, wire_read, wire_close};
    struct uvk_flash_options options = {.port = NULL};
    GError *error = NULL;

    (void)state;
    uvk_bootloader_init(&wire.bootloader, chip);
    wire.answers = g_byte_array_new();
    assert_false(uvk_avr109_flash(&line, chip, large, room + 1, &options, &error));
    assert_non_null(strstr(error->message, "do not fit before the bootloader"));
    assert_int_equal(wire.written, 0);
    g_clear_error(&error);
    assert_true(uvk_avr109_flash(&line, chip, large, room, &options, &error));
    for (size_t i = room; i < chip->flash; i++) {
        assert_int_equal(wire.bootloader.flash[i], 0xFF);
    }
    g_byte_array_free(wire.answers, TRUE);
    g_free(large);
    uvk_bootloader_clear(&wire.bootloader);
}

static void what_is_no_bootloader_is_recognised(void **state)
{
    static const char talk[][11] = {"login: ", "\x01\x02\x03\x04\x05\x06\x07", "UVBENCHN",
                                    "UVBENCHY\xff\xff", "UVBENCHY\x00\x03"};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(talk); i++) {
        struct wire wire = {.cut_after = 0};
        struct uvk_line line = {&wire, wire_write, wire_read, wire_close};
        struct uvk_flash_options options = {.port = NULL};
        GError *error = NULL;
        uvk_bootloader_init(&wire.bootloader, chip);
        wire.bootloader.faults.silent_after = 0;
        wire.answers = g_byte_array_new();
        g_byte_array_append(wire.answers, (const guint8 *)talk[i], 10);
        assert_false(uvk_avr109_flash(&line, chip, code, CODE_SIZE, &options, &error));
        g_error_free(error);
        assert_int_equal(wire.bootloader.flash[0], 0xFF);
        g_byte_array_free(wire.answers, TRUE);
        uvk_bootloader_clear(&wire.bootloader);
    }
}

/* Whatever arrives, the bootloader keeps within its memory. */
static void random_bytes_do_no_harm(void **state)
{
    struct uvk_bootloader bootloader;
    GRand *random = g_rand_new_with_seed(11);
    GByteArray *out = g_byte_array_new();
    static const char letters[] = "SbsPLeABgETaFFF";

    (void)state;
    uvk_bootloader_init(&bootloader, chip);
    for (int round = 0; round < 200000; round++) {
        uint8_t byte = (uint8_t)g_rand_int_range(random, 0, 256);
        if (g_rand_boolean(random)) {
            byte = (uint8_t)letters[g_rand_int_range(random, 0, (gint)sizeof letters - 1)];
        }
        uvk_bootloader_feed(&bootloader, &byte, 1, out);
        g_byte_array_set_size(out, 0);
    }
    for (size_t i = chip->flash - chip->bootloader; i < chip->flash; i++) {
        assert_int_equal(bootloader.flash[i], 0xFF);
    }
    g_byte_array_free(out, TRUE);
    g_rand_free(random);
    uvk_bootloader_clear(&bootloader);
}

/* ---- a pseudo-terminal ------------------------------------------------------------------ */

struct server {
    struct uvk_terminal *terminal;
    struct uvk_bootloader bootloader;
    gint stop;
};

static gpointer serve(gpointer data)
{
    struct server *server = data;

    while (!g_atomic_int_get(&server->stop) && !server->bootloader.left) {
        struct pollfd ready = {uvk_terminal_file(server->terminal), POLLIN, 0};
        if (poll(&ready, 1, 20) > 0) {
            uvk_terminal_serve(server->terminal, &server->bootloader);
        }
    }
    return NULL;
}

static unsigned stages;

static void note_stage(void *data, enum uvk_flash_stage stage, const char *text, size_t done,
                       size_t total)
{
    (void)data;
    (void)text;
    assert_true(done <= total);
    stages |= 1u << stage;
}

static void flash_over_a_terminal(void **state)
{
    char *path = g_build_filename(scratch_folder(), "serial", NULL);
    struct uvk_flash_options options = {.port = path, .patience = 5, .progress = note_stage};
    struct server server = {.stop = 0};
    GError *error = NULL;
    GThread *thread;
    bool good;

    (void)state;
    server.terminal = uvk_terminal_new(path, &error);
    assert_null(error);
    uvk_bootloader_init(&server.bootloader, chip);
    thread = g_thread_new("bootloader", serve, &server);
    good = uvk_flash(chip, "serial", code, CODE_SIZE, &options, &error);
    g_atomic_int_set(&server.stop, 1);
    g_thread_join(thread);
    assert_null(error);
    assert_true(good);
    assert_memory_equal(server.bootloader.flash, code, CODE_SIZE);
    assert_int_equal(stages, 1u << UVK_FLASH_FOUND | 1u << UVK_FLASH_WRITING |
                                 1u << UVK_FLASH_VERIFYING | 1u << UVK_FLASH_DONE);
    uvk_terminal_free(server.terminal);
    uvk_bootloader_clear(&server.bootloader);
    assert_false(g_file_test(path, G_FILE_TEST_EXISTS));
    g_free(path);
}

static void waiting_ends(void **state)
{
    struct uvk_flash_options options = {.port = "/nowhere/serial"};
    GError *error = NULL;

    (void)state;
    assert_false(uvk_flash(chip, "serial", code, CODE_SIZE, &options, &error));
    assert_non_null(strstr(error->message, "no bootloader appeared within 0 s"));
    g_error_free(error);
}

/* ---- by a drive ------------------------------------------------------------------------- */

struct drive_server {
    struct uvk_drive *drive;
    gint stop;
};

static gpointer serve_drive(gpointer data)
{
    struct drive_server *server = data;

    while (!g_atomic_int_get(&server->stop) && !uvk_drive_left(server->drive)) {
        g_usleep(1000);
        uvk_drive_serve(server->drive);
    }
    return NULL;
}

/* Flash CODE by a drive with FAULTS; true: it went well, else *ERROR. The drive is left to be
 * looked at. */
static bool flash_by_drive(const struct uvk_drive_faults *faults, struct uvk_drive **drive,
                           GError **error)
{
    const struct uvk_chip *rp2040 = uvk_chip_named("rp2040");
    char *folder = g_build_filename(scratch_folder(), "drive", NULL);
    struct uvk_flash_options options = {.drive = folder, .patience = 5, .progress = note_stage};
    struct drive_server server = {uvk_drive_new(folder, rp2040, faults), 0};
    GThread *thread;
    bool good;

    assert_true(uvk_drive_show(server.drive, error));
    thread = g_thread_new("drive", serve_drive, &server);
    stages = 0;
    good = uvk_flash(rp2040, "uf2", code, CODE_SIZE, &options, error);
    g_atomic_int_set(&server.stop, 1);
    g_thread_join(thread);
    *drive = server.drive;
    g_free(folder);
    return good;
}

static void drive_takes_the_file_and_goes(void **state)
{
    const struct uvk_drive_faults none = {.full = false};
    char *folder = g_build_filename(scratch_folder(), "drive", NULL);
    GError *error = NULL;
    struct uvk_drive *drive;

    (void)state;
    assert_true(flash_by_drive(&none, &drive, &error));
    assert_null(error);
    assert_true(uvk_drive_left(drive));
    assert_memory_equal(uvk_drive_flash(drive), code, CODE_SIZE);
    assert_int_equal(stages,
                     1u << UVK_FLASH_FOUND | 1u << UVK_FLASH_WRITING | 1u << UVK_FLASH_DONE);
    assert_false(g_file_test(folder, G_FILE_TEST_EXISTS));
    uvk_drive_free(drive);
    g_free(folder);
}

/* What goes wrong is told, and a second try on a good drive works. */
static void faults_of_a_drive_are_told(void **state)
{
    static const struct {
        struct uvk_drive_faults faults;
        const char *message;
    } cases[] = {
        {{.other_chip = true}, "is the drive of another board (OTHER, not RPI-RP2); nothing"},
        {{.full = true}, "the drive took 0 of the file's "},
        {{.full = true}, "bytes: the drive is full. The board is still in its bootloader"},
        {{.deaf = true}, "the chip has not taken it"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        GError *error = NULL;
        struct uvk_drive *drive;
        assert_false(flash_by_drive(&cases[i].faults, &drive, &error));
        assert_non_null(strstr(error->message, cases[i].message));
        assert_false(uvk_drive_left(drive));
        g_clear_error(&error);
        uvk_drive_free(drive);
        drive_takes_the_file_and_goes(NULL);
    }
}

/* Somebody pulls it when the first part has been written. */
static void pull_drive(void *data, enum uvk_flash_stage stage, const char *text, size_t done,
                       size_t total)
{
    (void)text;
    (void)total;
    if (stage == UVK_FLASH_WRITING && done > 0) {
        uvk_drive_hide(data, false);
    }
}

static void drive_that_is_pulled_is_told(void **state)
{
    const struct uvk_chip *rp2040 = uvk_chip_named("rp2040");
    const struct uvk_drive_faults none = {.full = false};
    char *folder = g_build_filename(scratch_folder(), "pulled", NULL);
    struct uvk_drive *drive = uvk_drive_new(folder, rp2040, &none);
    const struct uvk_flash_options options = {
        .drive = folder, .progress = pull_drive, .data = drive};
    uint8_t *large = g_malloc0(20000);
    GError *error = NULL;

    (void)state;
    assert_true(uvk_drive_show(drive, NULL));
    assert_false(uvk_flash(rp2040, "uf2", large, 20000, &options, &error));
    assert_non_null(strstr(error->message, "bytes: it has gone. The board is still in its"));
    g_error_free(error);
    assert_true(uvk_drive_show(drive, NULL)); /* and again, with nothing of before in it */
    assert_false(uvk_drive_heard(drive));
    uvk_drive_free(drive);
    g_free(large);
    g_free(folder);
}

/* What was asked by touching is seen once. */
static void touch_is_noticed(void **state)
{
    char *path = g_build_filename(scratch_folder(), "touched", NULL);
    struct uvk_terminal *terminal = uvk_terminal_new(path, NULL);
    struct uvk_line *line = uvk_serial_open(path, NULL);

    (void)state;
    uvk_line_close(line);
    assert_false(uvk_terminal_was_touched(terminal)); /* opening it is no touch */
    assert_true(uvk_serial_touch(path, NULL));
    assert_true(uvk_terminal_was_touched(terminal));
    assert_false(uvk_terminal_was_touched(terminal));
    uvk_terminal_free(terminal);
    g_free(path);
}

static void folder_that_is_no_drive_is_waited_for(void **state)
{
    struct uvk_flash_options options = {.drive = scratch_folder()};
    GError *error = NULL;

    (void)state;
    assert_false(uvk_flash(uvk_chip_named("rp2040"), "uf2", code, CODE_SIZE, &options, &error));
    assert_non_null(strstr(error->message, "no bootloader appeared within 0 s"));
    g_error_free(error);
}

static void port_that_is_no_terminal_is_refused(void **state)
{
    char *path = scratch_file("plain.txt", "x");
    GError *error = NULL;

    (void)state;
    assert_null(uvk_serial_open(path, &error));
    assert_non_null(strstr(error->message, "cannot open"));
    g_clear_error(&error);
    assert_null(uvk_terminal_new(path, &error)); /* a plain file is not replaced */
    g_error_free(error);
    g_free(path);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(code_arrives_and_the_firmware_starts),
        cmocka_unit_test(trouble_is_told_and_a_second_try_works),
        cmocka_unit_test(no_answer_at_the_end_is_no_failure),
        cmocka_unit_test(another_chip_is_not_touched),
        cmocka_unit_test(bootloader_pages_are_never_written),
        cmocka_unit_test(what_is_no_bootloader_is_recognised),
        cmocka_unit_test(random_bytes_do_no_harm),
        cmocka_unit_test(flash_over_a_terminal),
        cmocka_unit_test(waiting_ends),
        cmocka_unit_test(drive_takes_the_file_and_goes),
        cmocka_unit_test(faults_of_a_drive_are_told),
        cmocka_unit_test(drive_that_is_pulled_is_told),
        cmocka_unit_test(touch_is_noticed),
        cmocka_unit_test(folder_that_is_no_drive_is_waited_for),
        cmocka_unit_test(port_that_is_no_terminal_is_refused),
    };
    return cmocka_run_group_tests_name("flash", tests, set_up, NULL);
}
