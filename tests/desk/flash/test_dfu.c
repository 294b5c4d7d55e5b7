/* Flashing by DFU 1.1: the desk's end against the bench's, plain and with the chip maker's
 * extension; first on a cable of memory, with a fault at every request, then over USB/IP. */
#include "support.h"

#include "uvrek/flash.h"
#include "uvrek/gadget.h"

#include <string.h>

#define CODE_SIZE 5001u
#define REQUESTS  400u /* no attempt takes more */

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

static const struct kind {
    const char *what;
    struct uvk_dfu_kind kind;
    bool verifies;
} kinds[] = {
    {"the chip maker's", {.transfer = 1024, .vendor = 0x03EB, .product = 0x2FF4}, true},
    {"plain, tolerant, can be read",
     {.plain = true, .uploads = true, .tolerant = true, .transfer = 512},
     true},
    {"plain, tolerant", {.plain = true, .tolerant = true, .transfer = 64}, false},
    {"plain, can be read", {.plain = true, .uploads = true, .transfer = 1024}, false},
    {"plain, and nothing else", {.plain = true, .transfer = 4096}, false},
};

/* ---- a cable of memory ------------------------------------------------------------------ */

struct memory_cable {
    struct uvk_cable cable;
    struct uvk_dfu_boot *boot;
    unsigned requests, stall_at; /* of the class; the one that is refused; 0: none */
    bool closed;
};

static enum uvk_cable_result memory_control(void *self, const uint8_t setup[8], uint8_t *data,
                                            size_t *size, unsigned ms)
{
    static const enum uvk_cable_result results[] = {UVK_CABLE_DONE, UVK_CABLE_STALL,
                                                    UVK_CABLE_LATE};
    struct memory_cable *memory = self;
    const struct uvk_gadget *gadget = uvk_dfu_boot_gadget(memory->boot);
    enum uvk_transfer result;

    (void)ms;
    if ((setup[0] & 0x60) != 0) {
        assert_true(++memory->requests < REQUESTS);
        if (memory->requests == memory->stall_at) {
            return UVK_CABLE_STALL;
        }
    }
    if (uvk_dfu_boot_vanished(memory->boot) || uvk_dfu_boot_left(memory->boot)) {
        return UVK_CABLE_GONE;
    }
    result = gadget->control(gadget->self, setup, data, size);
    return uvk_dfu_boot_vanished(memory->boot) ? UVK_CABLE_GONE : results[result];
}

static void memory_reset(void *self)
{
    struct memory_cable *memory = self;
    const struct uvk_gadget *gadget = uvk_dfu_boot_gadget(memory->boot);

    gadget->released(gadget->self);
}

/* Flash CODE; the error, or NULL. Freed with g_error_free. */
static GError *flash(struct memory_cable *memory, bool extended,
                     const struct uvk_flash_options *options)
{
    GError *error = NULL;
    bool good;

    memory->cable = (struct uvk_cable){memory, memory_control, NULL, NULL, memory_reset, NULL};
    memory->requests = 0;
    good = uvk_dfu_flash(&memory->cable, chip, extended, code, CODE_SIZE, options, &error);
    assert_int_equal(good, error == NULL);
    return error;
}

static const struct uvk_flash_options no_options;

static void assert_flashed(struct uvk_dfu_boot *boot)
{
    assert_memory_equal(uvk_dfu_boot_flash(boot), code, CODE_SIZE);
    assert_int_equal(uvk_dfu_boot_flash(boot)[CODE_SIZE], 0xFF);
    assert_true(uvk_dfu_boot_left(boot));
}

static void code_arrives_and_the_firmware_starts(void **state)
{
    const struct uvk_dfu_faults none = {.after = 0};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(kinds); i++) {
        struct memory_cable memory = {.boot = uvk_dfu_boot_new(chip, &kinds[i].kind, &none)};
        assert_null(flash(&memory, !kinds[i].kind.plain, &no_options));
        assert_flashed(memory.boot);
        uvk_dfu_boot_free(memory.boot);
    }
}

/* ---- what goes wrong -------------------------------------------------------------------- */

static const struct trouble {
    const char *what;
    struct uvk_dfu_faults faults;
    bool only_extended, only_verified;
    int status;
    const char *message;
} troubles[] = {
    {"other chip", {.other_chip = true}, true, false, UVK_NOT_DONE, "another chip is there"},
    {"refused write",
     {.refuses_writes = true},
     false,
     false,
     UVK_NOT_DONE,
     "refused to write: it cannot program its memory"},
    {"lost bit",
     {.forgets_a_bit = true},
     false,
     true,
     UVK_NOT_WELL,
     "does not hold what was written"},
    {"silence", {.silent = true}, false, false, UVK_NOT_DONE, "did not answer"},
    {"silence, later",
     {.silent = true, .after = 6},
     false,
     false,
     UVK_NOT_DONE,
     "did not answer"},
    {"gone", {.vanishes = true}, false, false, UVK_NOT_DONE, "was gone when"},
    {"gone, later",
     {.vanishes = true, .after = 6},
     false,
     false,
     UVK_NOT_DONE,
     "was gone when"},
    {"nonsense", {.nonsense = true}, false, false, UVK_NOT_DONE, "means nothing"},
};

static void one_trouble(const struct trouble *trouble, const struct kind *kind)
{
    struct memory_cable memory = {.boot =
                                      uvk_dfu_boot_new(chip, &kind->kind, &trouble->faults)};
    GError *error;

    uvk_dfu_boot_flash(memory.boot)[0] = 0x42;
    error = flash(&memory, !kind->kind.plain, &no_options);
    if (error == NULL || strstr(error->message, trouble->message) == NULL) {
        fail_msg("%s, %s: %s", kind->what, trouble->what, error != NULL ? error->message : "");
        return;
    }
    assert_int_equal(error->code, trouble->status);
    /* once something was erased, that is said */
    assert_int_equal(strstr(error->message, "holds no whole firmware now") != NULL,
                     uvk_dfu_boot_flash(memory.boot)[0] != 0x42);
    assert_false(uvk_dfu_boot_left(memory.boot));
    g_error_free(error);
    /* the board is reset, the fault is gone */
    uvk_dfu_boot_begin(memory.boot, true);
    assert_null(flash(&memory, !kind->kind.plain, &no_options));
    assert_flashed(memory.boot);
    uvk_dfu_boot_free(memory.boot);
}

static void trouble_is_told_and_a_second_try_works(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(troubles); i++) {
        for (size_t j = 0; j < G_N_ELEMENTS(kinds); j++) {
            if ((!troubles[i].only_extended || !kinds[j].kind.plain) &&
                (!troubles[i].only_verified || kinds[j].verifies)) {
                one_trouble(&troubles[i], &kinds[j]);
            }
        }
    }
}

/* With FAULTS, and one request refused: what is said is true, and the next try works. */
static void one_attempt(const struct kind *kind, const struct uvk_dfu_faults *faults,
                        unsigned stall_at)
{
    struct memory_cable memory = {.boot = uvk_dfu_boot_new(chip, &kind->kind, faults),
                                  .stall_at = stall_at};
    GError *error = flash(&memory, !kind->kind.plain, &no_options);

    if (error == NULL) {
        assert_memory_equal(uvk_dfu_boot_flash(memory.boot), code, CODE_SIZE);
    } else {
        assert_true(strlen(error->message) > 20);
        g_error_free(error);
    }
    uvk_dfu_boot_begin(memory.boot, true);
    memory.stall_at = 0;
    assert_null(flash(&memory, !kind->kind.plain, &no_options));
    assert_flashed(memory.boot);
    uvk_dfu_boot_free(memory.boot);
}

/* How many requests a good attempt takes. */
static unsigned requests_of(const struct kind *kind)
{
    const struct uvk_dfu_faults none = {.after = 0};
    struct memory_cable memory = {.boot = uvk_dfu_boot_new(chip, &kind->kind, &none)};

    assert_null(flash(&memory, !kind->kind.plain, &no_options));
    uvk_dfu_boot_free(memory.boot);
    return memory.requests;
}

static void trouble_at_every_request_is_survived(void **state)
{
    const struct uvk_dfu_faults none = {.after = 0};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(kinds); i++) {
        unsigned all = requests_of(&kinds[i]);
        for (unsigned at = 0; at < all; at += few_rounds() ? 7 : 1) {
            const struct uvk_dfu_faults silent = {.after = at, .silent = true};
            const struct uvk_dfu_faults gone = {.after = at, .vanishes = true};
            const struct uvk_dfu_faults nonsense = {.after = at, .nonsense = true};
            one_attempt(&kinds[i], &silent, 0);
            one_attempt(&kinds[i], &gone, 0);
            one_attempt(&kinds[i], &nonsense, 0);
            one_attempt(&kinds[i], &none, at + 1);
        }
    }
}

static void what_was_left_over_is_ended_first(void **state)
{
    const struct uvk_dfu_faults none = {.after = 0};
    const uint8_t begun[8] = {0x21, UVK_DFU_DNLOAD, 0, 0, 0, 0, 4, 0};
    const uint8_t refused[8] = {0x21, 99, 0, 0, 0, 0, 0, 0};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(kinds); i++) {
        struct memory_cable memory = {.boot = uvk_dfu_boot_new(chip, &kinds[i].kind, &none)};
        const struct uvk_gadget *gadget = uvk_dfu_boot_gadget(memory.boot);
        uint8_t bytes[4] = {1, 2, 3, 4};
        size_t size = sizeof bytes;
        (void)gadget->control(gadget->self, begun, bytes, &size);
        assert_null(flash(&memory, !kinds[i].kind.plain, &no_options));
        uvk_dfu_boot_begin(memory.boot, false);
        size = 0;
        assert_int_equal(gadget->control(gadget->self, refused, bytes, &size),
                         UVK_TRANSFER_STALL);
        assert_null(flash(&memory, !kinds[i].kind.plain, &no_options));
        assert_flashed(memory.boot);
        uvk_dfu_boot_free(memory.boot);
    }
}

/* A host that asks for flash that is there, then for some that is not, gets neither. */
static void a_refused_range_is_not_shown(void **state)
{
    const struct uvk_dfu_faults none = {.after = 0};
    const uint8_t command[8] = {0x21, UVK_DFU_DNLOAD, 0, 0, 0, 0, 6, 0};
    const uint8_t upload[8] = {0xA1, UVK_DFU_UPLOAD, 0, 0, 0, 0, 0, 4};
    uint8_t good[] = {UVK_DFU_DISPLAY_COMMAND, 0, 0x7F, 0x00, 0x7F, 0xFF};
    uint8_t bad[] = {UVK_DFU_DISPLAY_COMMAND, 0, 0xFF, 0x00, 0xFF, 0xFF};
    struct uvk_dfu_boot *boot = uvk_dfu_boot_new(chip, &kinds[0].kind, &none);
    const struct uvk_gadget *gadget = uvk_dfu_boot_gadget(boot);
    uint8_t bytes[1024];
    size_t size = sizeof good;

    (void)state;
    assert_int_equal(gadget->control(gadget->self, command, good, &size), UVK_TRANSFER_DONE);
    size = sizeof bad;
    assert_int_equal(gadget->control(gadget->self, command, bad, &size), UVK_TRANSFER_STALL);
    size = sizeof bytes;
    assert_int_equal(gadget->control(gadget->self, upload, bytes, &size), UVK_TRANSFER_STALL);
    uvk_dfu_boot_free(boot);
}

/* ---- before it is written --------------------------------------------------------------- */

struct seen {
    bool asked, known, refuses;
    size_t size;
    uint8_t first;
};

static bool look(void *data, const uint8_t *bytes, size_t size, GError **error)
{
    struct seen *seen = data;

    seen->asked = true;
    seen->known = bytes != NULL;
    seen->size = size;
    seen->first = bytes != NULL ? bytes[0] : 0;
    if (seen->refuses) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, "not that one, please");
    }
    return !seen->refuses;
}

static void what_is_in_the_chip_can_be_seen_first(void **state)
{
    const struct uvk_dfu_faults none = {.after = 0};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(kinds); i++) {
        struct seen seen = {.refuses = true};
        const struct uvk_flash_options options = {.before = look, .data = &seen};
        struct memory_cable memory = {.boot = uvk_dfu_boot_new(chip, &kinds[i].kind, &none)};
        bool readable = !kinds[i].kind.plain || kinds[i].kind.uploads;
        GError *error;
        memset(uvk_dfu_boot_flash(memory.boot), 0x42, 777);
        error = flash(&memory, !kinds[i].kind.plain, &options);
        assert_string_equal(error->message, "not that one, please; nothing was written");
        g_error_free(error);
        assert_int_equal(seen.known, readable);
        assert_int_equal(seen.size, readable ? 777 : 0);
        assert_int_equal(seen.first, readable ? 0x42 : 0);
        assert_int_equal(uvk_dfu_boot_flash(memory.boot)[776], 0x42);
        seen.refuses = false;
        assert_null(flash(&memory, !kinds[i].kind.plain, &options));
        assert_flashed(memory.boot);
        uvk_dfu_boot_free(memory.boot);
    }
}

static void bootloader_pages_are_never_written(void **state)
{
    const struct uvk_dfu_faults none = {.after = 0};
    size_t room = chip->flash - chip->bootloader;
    uint8_t *large = g_malloc0(chip->flash);

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(kinds); i++) {
        struct memory_cable memory = {.boot = uvk_dfu_boot_new(chip, &kinds[i].kind, &none)};
        GError *error = NULL;
        memory.cable =
            (struct uvk_cable){&memory, memory_control, NULL, NULL, memory_reset, NULL};
        assert_false(uvk_dfu_flash(&memory.cable, chip, !kinds[i].kind.plain, large, room + 1,
                                   &no_options, &error));
        assert_non_null(strstr(error->message, "do not fit before the bootloader"));
        assert_int_equal(memory.requests, 0);
        g_clear_error(&error);
        if (!kinds[i].kind.plain) {
            assert_true(
                uvk_dfu_flash(&memory.cable, chip, true, large, room, &no_options, &error));
            for (size_t at = room; at < chip->flash; at++) {
                assert_int_equal(uvk_dfu_boot_flash(memory.boot)[at], 0xFF);
            }
        }
        uvk_dfu_boot_free(memory.boot);
    }
    g_free(large);
}

/* ---- descriptors ------------------------------------------------------------------------ */

static void descriptors_are_believed_in_nothing(void **state)
{
    static const uint8_t good[] = {9,    2, 27, 0, 1, 1,    0,    0x80, 50, 9, 4, 3,    0, 0,
                                   0xFE, 1, 2,  0, 9, 0x21, 0x05, 0,    0,  0, 4, 0x10, 1};
    uint8_t bytes[sizeof good];
    struct uvk_dfu_function function;

    (void)state;
    assert_true(uvk_dfu_find(good, sizeof good, &function));
    assert_int_equal(function.interface, 3);
    assert_int_equal(function.attributes, 5);
    assert_int_equal(function.transfer, 1024);
    for (size_t size = 0; size < sizeof good - 2; size++) {
        assert_false(uvk_dfu_find(good, size, &function));
    }
    for (size_t i = 0; i < sizeof good; i++) { /* no length leads outside, or nowhere */
        memcpy(bytes, good, sizeof good);
        for (unsigned value = 0; value < 256; value++) {
            bytes[i] = (uint8_t)value;
            (void)uvk_dfu_find(bytes, sizeof bytes, &function);
        }
    }
}

/* ---- over USB/IP ------------------------------------------------------------------------ */

struct served {
    struct uvk_usbip *server;
    struct uvk_dfu_boot *boot;
    GThread *thread;
    gint stop;
};

static gpointer serve(gpointer data)
{
    struct served *served = data;

    while (!g_atomic_int_get(&served->stop) && !uvk_dfu_boot_left(served->boot)) {
        struct pollfd files[UVK_USBIP_FILES];
        unsigned count = uvk_usbip_files(served->server, files);
        (void)poll(files, count, 5);
        uvk_usbip_serve(served->server);
        if (uvk_dfu_boot_vanished(served->boot)) {
            uvk_usbip_plug(served->server, NULL);
        }
    }
    return NULL;
}

/* Flash over USB/IP to a bootloader of that KIND with FAULTS; the error, or NULL. */
static GError *flash_remotely(const struct uvk_dfu_kind *kind,
                              const struct uvk_dfu_faults *faults, const char *to,
                              uint8_t *flashed)
{
    struct served served = {.boot = uvk_dfu_boot_new(chip, kind, faults)};
    struct uvk_flash_options options = {.patience = 1, .to = to};
    GError *error = NULL;
    char *where;

    served.server = uvk_usbip_new("127.0.0.1:0", &error);
    assert_null(error);
    where = g_strdup_printf("%u", uvk_usbip_port(served.server));
    options.usbip = where;
    uvk_usbip_plug(served.server, uvk_dfu_boot_gadget(served.boot));
    served.thread = g_thread_new("server", serve, &served);
    (void)uvk_flash(chip, "dfu", code, CODE_SIZE, &options, &error);
    g_atomic_int_set(&served.stop, 1);
    g_thread_join(served.thread);
    memcpy(flashed, uvk_dfu_boot_flash(served.boot), CODE_SIZE);
    uvk_usbip_free(served.server);
    uvk_dfu_boot_free(served.boot);
    g_free(where);
    return error;
}

static void real_requests_flash_it(void **state)
{
    const struct uvk_dfu_faults none = {.after = 0};
    uint8_t flashed[CODE_SIZE];

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(kinds); i++) {
        GError *error =
            flash_remotely(&kinds[i].kind, &none, kinds[i].kind.plain ? "1-1" : NULL, flashed);
        if (error != NULL) {
            fail_msg("%s: %s", kinds[i].what, error->message);
        }
        assert_memory_equal(flashed, code, CODE_SIZE);
    }
}

/* A bootloader that tells neither chip nor board is only taken when somebody names it. */
static void what_says_nothing_is_not_taken(void **state)
{
    const struct uvk_dfu_faults none = {.after = 0};
    uint8_t flashed[CODE_SIZE];
    GError *error = flash_remotely(&kinds[1].kind, &none, NULL, flashed);

    (void)state;
    assert_non_null(strstr(error->message, "no bootloader appeared within 1 s"));
    assert_int_equal(flashed[0], 0xFF);
    g_error_free(error);
}

static void a_pulled_cable_is_told(void **state)
{
    const struct uvk_dfu_faults gone = {.after = 20, .vanishes = true};
    uint8_t flashed[CODE_SIZE];
    GError *error = flash_remotely(&kinds[0].kind, &gone, NULL, flashed);

    (void)state;
    assert_non_null(strstr(error->message, "was gone when it was asked"));
    g_error_free(error);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(code_arrives_and_the_firmware_starts),
        cmocka_unit_test(trouble_is_told_and_a_second_try_works),
        cmocka_unit_test(trouble_at_every_request_is_survived),
        cmocka_unit_test(what_was_left_over_is_ended_first),
        cmocka_unit_test(a_refused_range_is_not_shown),
        cmocka_unit_test(what_is_in_the_chip_can_be_seen_first),
        cmocka_unit_test(bootloader_pages_are_never_written),
        cmocka_unit_test(descriptors_are_believed_in_nothing),
        cmocka_unit_test(real_requests_flash_it),
        cmocka_unit_test(what_says_nothing_is_not_taken),
        cmocka_unit_test(a_pulled_cable_is_told),
    };

    return cmocka_run_group_tests(tests, set_up, NULL);
}
