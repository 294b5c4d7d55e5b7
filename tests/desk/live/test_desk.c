/* The desk's side of the live door, with the engine itself at the other end of a USB/IP cable:
 * an honest keyboard, one that lies, and one that is unplugged in the middle. */
#include "keyboard/engine/keyboard.h"

#include "uvrek/gadget.h"
#include "uvrek/live.h"

#include <string.h>

#define KEYMAP(base)                                                                           \
    BOARD9 "keymap k {\n host linux us\n live { room 128 }\n macro reel { type \"reel\" }\n"   \
           " layer base {\n" base "\n }\n layer top {\n 1 2 3 4 5 6 7 8 .\n }\n}\n"
#define BEFORE KEYMAP("a b c d/shift reel f g h top")
#define AFTER  KEYMAP("a x c d/shift reel once:shift g reel top")

enum lie { HONEST, SILENT, SHORT, OTHER_NUMBER, MANGLED, REFUSES, LIES };

/* A keyboard on the cable. All of it belongs to the thread that serves, but under the lock. */
struct table {
    struct keyboard keyboard;
    struct uvk_gadget gadget;
    struct uvk_usbip *server;
    GThread *thread;
    GMutex lock;
    bool stop;
    enum lie lie;
    unsigned left;                  /* requests until it is unplugged; 0: it stays */
    uint8_t buffer[UVK_DOOR_BYTES]; /* of the endpoint: a request that nobody has taken yet */
    bool waits;                     /* there is one */
    bool overtaken;                 /* one came while the one before was not answered */
    bool unplug;
    char *where;
};

static const uint8_t device[18] = {18, 1, 0, 2, 0, 0, 0, 8, 9, 0x12, 9, 0, 0, 1, 0, 0, 0, 1};
#define INTERFACE(number) 9, 4, number, 0, 1, 3, 0, 0, 0
#define HID(length)       9, 0x21, 0x11, 1, 0, 1, 0x22, length, 0
#define ENDPOINT(address) 7, 5, address, 3, UVK_DOOR_BYTES, 0, 1
static const uint8_t configuration[] = {9,
                                        2,
                                        59,
                                        0,
                                        3,
                                        1,
                                        0,
                                        0xA0,
                                        50,
                                        INTERFACE(0),
                                        INTERFACE(1),
                                        INTERFACE(2),
                                        HID(UVK_LIVE_ITEM_BYTES),
                                        ENDPOINT(0x80 | UVK_LIVE_IN),
                                        ENDPOINT(UVK_LIVE_OUT)};

static enum uvk_transfer control(void *self, const uint8_t setup[8], uint8_t *data,
                                 size_t *size)
{
    const uint8_t *bytes = setup[3] == 1 ? device : configuration;
    size_t count = setup[3] == 1 ? sizeof device : sizeof configuration;

    (void)self;
    if (setup[1] != 6 || setup[3] > 2) {
        return UVK_TRANSFER_STALL;
    }
    *size = MIN(*size, count);
    memcpy(data, bytes, *size);
    return UVK_TRANSFER_DONE;
}

/* As on a chip: a packet stays in the endpoint's buffer until the door is free. */
static void take_request(struct table *table)
{
    if (table->waits && uvk_door_is_free(&table->keyboard.engine)) {
        uvk_door_take(&table->keyboard.engine, table->buffer);
        table->waits = false;
    }
}

static enum uvk_transfer give(void *self, unsigned endpoint, const uint8_t *packet, size_t size)
{
    struct table *table = self;

    if (endpoint != UVK_LIVE_OUT || size != UVK_DOOR_BYTES || table->waits) {
        return UVK_TRANSFER_FAILED;
    }
    memcpy(table->buffer, packet, size);
    table->waits = true;
    take_request(table);
    table->overtaken = table->overtaken || table->waits;
    if (table->left > 0 && --table->left == 0) {
        table->unplug = true;
    }
    return UVK_TRANSFER_DONE;
}

static void mangle(const struct table *table, uint8_t packet[64], size_t *size)
{
    switch (table->lie) {
    case SHORT:
        *size = 10;
        break;
    case OTHER_NUMBER:
        packet[0] ^= 0x55;
        break;
    case MANGLED:
        for (unsigned i = 1; i < UVK_DOOR_BYTES; i++) {
            packet[i] = (uint8_t)rand();
        }
        packet[1] = 0;
        break;
    case REFUSES:
        packet[1] = (uint8_t)(1 + rand() % 9);
        break;
    default:
        break;
    }
}

static bool fetch(void *self, unsigned endpoint, uint8_t packet[64], size_t *size)
{
    struct table *table = self;

    uvk_door_tick(&table->keyboard.engine, &table->keyboard.port);
    keyboard_pass(&table->keyboard, 1);
    if (endpoint != UVK_LIVE_IN || table->lie == SILENT ||
        !uvk_door_next(&table->keyboard.engine, packet)) {
        return false;
    }
    *size = UVK_DOOR_BYTES;
    mangle(table, packet, size);
    take_request(table);
    return true;
}

static void released(void *self)
{
    (void)self;
}

static gpointer serve(gpointer data)
{
    struct table *table = data;
    bool going = true;

    while (going) {
        struct pollfd files[UVK_USBIP_FILES];
        unsigned count;
        g_mutex_lock(&table->lock);
        count = uvk_usbip_files(table->server, files);
        g_mutex_unlock(&table->lock);
        (void)poll(files, count, 1);
        g_mutex_lock(&table->lock);
        uvk_usbip_serve(table->server);
        if (table->unplug) {
            uvk_usbip_plug(table->server, NULL);
            uvk_usbip_plug(table->server, &table->gadget);
            table->unplug = false;
            table->waits = false;
        }
        going = !table->stop;
        g_mutex_unlock(&table->lock);
    }
    return NULL;
}

static const char note[] = "UVKN0.1.0 atmega32u4 nine k";

static void start(struct table *table)
{
    const struct uvk_door_setup setup = {
        .note = (uvk_image_bytes)note, .note_size = sizeof note, .features = UVK_FEATURE_BITS};

    uvk_door_start(&table->keyboard.engine, &table->keyboard.port, &setup);
    table->keyboard.engine.door.consent.state = UVK_DOOR_IS_OPEN;
}

static void set_table(struct table *table)
{
    GError *error = NULL;

    memset(table, 0, sizeof *table);
    g_mutex_init(&table->lock);
    keyboard_open(&table->keyboard, BEFORE);
    start(table);
    table->gadget = (struct uvk_gadget){table, control, fetch, give, released};
    table->server = uvk_usbip_new("0", &error);
    assert_null(error);
    table->where = g_strdup_printf("%u", uvk_usbip_port(table->server));
    uvk_usbip_plug(table->server, &table->gadget);
    table->thread = g_thread_new("keyboard", serve, table);
}

static void clear_table(struct table *table)
{
    g_mutex_lock(&table->lock);
    table->stop = true;
    g_mutex_unlock(&table->lock);
    g_thread_join(table->thread);
    uvk_usbip_free(table->server);
    g_mutex_clear(&table->lock);
    g_free(table->where);
    keyboard_close(&table->keyboard);
}

/* What was to be unplugged is so by then. */
static void be(struct table *table, enum lie lie, unsigned left)
{
    g_mutex_lock(&table->lock);
    while (table->unplug) {
        g_mutex_unlock(&table->lock);
        g_thread_yield();
        g_mutex_lock(&table->lock);
    }
    table->lie = lie;
    table->left = left;
    g_mutex_unlock(&table->lock);
}

static struct uvk_live *must_open(const struct table *table)
{
    GError *error = NULL;
    struct uvk_live *live = uvk_live_open(table->where, "1-1", &error);

    if (error != NULL) {
        fail_msg("%s", error->message);
    }
    return live;
}

/* ---- honest ------------------------------------------------------------------------------ */

static void a_keyboard_is_found_read_and_changed(void **state)
{
    static struct table table;
    struct made before = make_image(BEFORE);
    struct made after = make_image(AFTER);
    GError *error = NULL;
    GPtrArray *list;
    GPtrArray *differences;
    const struct uvk_live_found *found;
    struct uvk_live *live;
    unsigned needed;

    (void)state;
    set_table(&table);
    list = uvk_live_list(table.where, &error);
    assert_null(error);
    assert_int_equal(list->len, 1);
    found = list->pdata[0];
    assert_true(found->answers);
    assert_string_equal(found->facts.note.keymap, "k");
    assert_int_equal(found->facts.sum, 0);
    assert_int_equal(found->facts.room, 128);
    g_ptr_array_unref(list);
    live = must_open(&table);
    assert_true(uvk_same_image(uvk_live_image(live, &error), &before.image));
    assert_true(table.overtaken); /* the next piece is asked for while one comes */
    assert_true(uvk_live_change(live, &after.image, &needed, &error));
    assert_in_range(needed, 8, 40);
    assert_true(uvk_same_image(uvk_live_image(live, &error), &after.image));
    differences =
        uvk_live_differences(before.program, uvk_live_image(live, &error), &before.image, NULL);
    assert_int_equal(differences->len, 3);
    g_ptr_array_unref(differences);
    assert_true(uvk_live_forget(live, &error));
    assert_true(uvk_same_image(uvk_live_image(live, &error), &before.image));
    assert_true(uvk_live_is_kept(live, &error));
    assert_null(error);
    uvk_live_close(live);
    clear_table(&table);
    clear_image(&before);
    clear_image(&after);
}

/* ---- lies -------------------------------------------------------------------------------- */

static void well_or_why(bool good, GError **error)
{
    assert_int_equal(good, *error == NULL);
    g_clear_error(error);
}

/* All that can be asked, of a keyboard that answers with LIE. Each is an error, or an answer
 * that somebody could have meant. */
static void ask_all(const struct table *table, const struct uvk_image *wanted)
{
    GError *error = NULL;
    struct uvk_live *live = must_open(table);
    struct uvk_live_facts facts;
    struct uvk_live_asking asking;
    struct uvk_live_event event;
    unsigned needed;
    bool good;

    good = uvk_live_who(live, &facts, &error);
    well_or_why(good, &error);
    good = uvk_live_asked(live, &asking, &error);
    well_or_why(good, &error);
    good = uvk_live_image(live, &error) != NULL;
    well_or_why(good, &error);
    good = uvk_live_watch(live, 0x0E, &error);
    well_or_why(good, &error);
    good = uvk_live_next(live, 1, &event, &error) >= 0;
    well_or_why(good, &error);
    good = uvk_live_change(live, wanted, &needed, &error);
    well_or_why(good, &error);
    uvk_live_close(live);
}

static void lies_are_believed_in_nothing(void **state)
{
    static struct table table;
    struct made before = make_image(BEFORE);
    struct made after = make_image(AFTER);
    GError *error = NULL;
    struct uvk_live *live;

    (void)state;
    set_table(&table);
    srand(11);
    for (unsigned lie = SHORT; lie < LIES; lie++) {
        if (lie == OTHER_NUMBER) {
            continue; /* waits for each answer, as with SILENT: see below */
        }
        for (unsigned round = 0; round < 20; round++) {
            be(&table, (enum lie)lie, 0);
            ask_all(&table, &after.image);
        }
    }
    be(&table, HONEST, 0);
    live = must_open(&table);
    assert_true(uvk_live_forget(live, &error));
    assert_true(uvk_same_image(uvk_live_image(live, &error), &before.image));
    for (unsigned lie = SILENT; lie <= OTHER_NUMBER; lie += OTHER_NUMBER - SILENT) {
        struct uvk_live_facts facts;
        be(&table, (enum lie)lie, 0);
        assert_false(uvk_live_who(live, &facts, &error));
        assert_string_equal(error->message, "the keyboard does not answer");
        g_clear_error(&error);
    }
    uvk_live_close(live);
    clear_table(&table);
    clear_image(&before);
    clear_image(&after);
}

/* It is unplugged at every request that a change takes: afterwards it does what it did, or what
 * it was to do. */
static void unplugged_at_any_request_it_is_whole(void **state)
{
    static struct table table;
    struct made before = make_image(BEFORE);
    struct made after = make_image(AFTER);
    GError *error = NULL;
    unsigned cuts = 0;
    bool done = false;

    (void)state;
    set_table(&table);
    for (unsigned left = 1; !done; left++) {
        struct uvk_live *live = must_open(&table);
        const struct uvk_image *image;
        unsigned needed;
        be(&table, HONEST, left);
        done = uvk_live_change(live, &after.image, &needed, &error);
        if (!done) {
            assert_string_equal(error->message,
                                "the keyboard is gone: it was unplugged, or has restarted");
            cuts++;
        }
        g_clear_error(&error);
        uvk_live_close(live);
        be(&table, HONEST, 0);
        live = must_open(&table);
        image = uvk_live_image(live, &error);
        if (image == NULL) {
            fail_msg("after %u requests: %s", left, error->message);
        }
        assert_true(uvk_same_image(image, &before.image) ||
                    uvk_same_image(image, &after.image));
        assert_true(uvk_live_forget(live, &error));
        uvk_live_close(live);
    }
    assert_in_range(cuts, 10, 200);
    clear_table(&table);
    clear_image(&before);
    clear_image(&after);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_keyboard_is_found_read_and_changed),
        cmocka_unit_test(lies_are_believed_in_nothing),
        cmocka_unit_test(unplugged_at_any_request_it_is_whole),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
