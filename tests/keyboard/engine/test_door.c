/* The live door of the engine by itself, millisecond by millisecond: who is let in, what is
 * told, and what is in force when. */
#include "keyboard.h"

#include "uvrek/door.h"
#include "uvrek/fit.h"
#include "uvrek/journal.h"

#include <string.h>

#define KEYMAP(base)                                                                           \
    BOARD9 "keymap k {\n host linux us\n live { room 128 }\n macro reel { type \"reel\" }\n"   \
           " layer base {\n" base "\n }\n layer top {\n 1 2 3 4 5 6 7 8 .\n }\n}\n"
#define PLAIN "a b c d/shift reel f g h top"

struct door {
    struct keyboard keyboard;
    struct uvk_journal journal;
    uint8_t memory[2 * UVK_BANK_BYTES];
    uint8_t number;
};

static void start(struct door *door)
{
    const struct uvk_door_setup setup = {.journal = &door->journal,
                                         .note = (uvk_image_bytes) "note",
                                         .note_size = 5,
                                         .board = 7,
                                         .features = UVK_FEATURE_BITS};
    struct keyboard *keyboard = &door->keyboard;

    keyboard->port.memory = door->memory;
    assert_int_equal(uvk_engine_start(&keyboard->engine, sizeof keyboard->engine,
                                      keyboard->image, keyboard->size, keyboard->port.time_us),
                     UVK_OK);
    (void)uvk_journal_open(&door->journal, &keyboard->port, 7);
    uvk_door_start(&keyboard->engine, &keyboard->port, &setup);
}

static void open_keyboard(struct door *door, const char *text)
{
    memset(door, 0, sizeof *door);
    memset(door->memory, 0xFF, sizeof door->memory);
    keyboard_open(&door->keyboard, text);
    door->keyboard.host_fetches = true;
    start(door);
}

static void pass(struct door *door, unsigned ms)
{
    while (ms-- > 0) {
        uvk_journal_task(&door->journal, &door->keyboard.port, 1, true);
        uvk_door_tick(&door->keyboard.engine, &door->keyboard.port);
        keyboard_pass(&door->keyboard, 1);
    }
}

static uint8_t ask(struct door *door, enum uvk_door_request code, const uint8_t *content,
                   size_t size, uint8_t out[UVK_DOOR_CONTENT])
{
    uint8_t report[UVK_DOOR_BYTES] = {++door->number, (uint8_t)code};

    if (size > 0) {
        memcpy(report + 2, content, size);
    }
    assert_true(uvk_door_is_free(&door->keyboard.engine));
    uvk_door_take(&door->keyboard.engine, report);
    assert_false(uvk_door_is_free(&door->keyboard.engine));
    assert_true(uvk_door_next(&door->keyboard.engine, report));
    assert_int_equal(report[0], door->number);
    if (out != NULL) {
        memcpy(out, report + 2, UVK_DOOR_CONTENT);
    }
    return report[1];
}

static uint8_t ask_plain(struct door *door, enum uvk_door_request code)
{
    return ask(door, code, NULL, 0, NULL);
}

/* As the board calls the key. */
static void touch(struct door *door, unsigned key, bool down)
{
    char *address = uvk_cell_place(door->keyboard.program->board, key);

    keyboard_contact(&door->keyboard, address, down);
    g_free(address);
}

static void tap(struct door *door, unsigned key)
{
    touch(door, key, true);
    pass(door, 20);
    touch(door, key, false);
    pass(door, 20);
}

static void begin_to_ask(struct door *door, uint8_t keys[UVK_DOOR_KEYS])
{
    uint8_t out[UVK_DOOR_CONTENT];

    assert_int_equal(ask_plain(door, UVK_DOOR_OPEN), UVK_DOOR_DONE);
    pass(door, 2);
    assert_int_equal(ask(door, UVK_DOOR_ASKED, NULL, 0, out), UVK_DOOR_DONE);
    assert_int_equal(out[0], UVK_DOOR_ASKS);
    memcpy(keys, out + 3, UVK_DOOR_KEYS);
}

static void open_door(struct door *door)
{
    uint8_t keys[UVK_DOOR_KEYS];

    begin_to_ask(door, keys);
    for (unsigned i = 0; i < UVK_DOOR_KEYS; i++) {
        tap(door, keys[i]);
    }
    assert_int_equal(uvk_door_state(&door->keyboard.engine), UVK_DOOR_IS_OPEN);
}

/* ---- consent ----------------------------------------------------------------------------- */

/* Three keys that are there, no two the same, any of them in time. */
static void any_keys_are_picked(void **state)
{
    static struct door door;
    unsigned times[9] = {0};
    uint8_t keys[UVK_DOOR_KEYS];

    (void)state;
    open_keyboard(&door, KEYMAP(PLAIN));
    for (unsigned i = 0; i < 900; i++) {
        begin_to_ask(&door, keys);
        for (unsigned n = 0; n < UVK_DOOR_KEYS; n++) {
            assert_in_range(keys[n], 0, 8);
            times[keys[n]]++;
        }
        assert_int_not_equal(keys[0], keys[1]);
        assert_int_not_equal(keys[0], keys[2]);
        assert_int_not_equal(keys[1], keys[2]);
    }
    for (unsigned key = 0; key < 9; key++) { /* each about 300 times */
        assert_in_range(times[key], 200, 400);
    }
    keyboard_close(&door.keyboard);
}

/* What was down before is let go of as ever; what opens the door is not seen, also not when it
 * comes up. */
static void presses_that_open_it_are_typed_nowhere(void **state)
{
    static struct door door;
    uint8_t keys[UVK_DOOR_KEYS];

    (void)state;
    open_keyboard(&door, KEYMAP(PLAIN));
    pass(&door, 2);
    touch(&door, 0, true);
    pass(&door, 5);
    begin_to_ask(&door, keys);
    touch(&door, 0, false);
    pass(&door, 20);
    assert_reports(&door.keyboard, "keys 00 04", "keys 00", NULL);
    while (keys[0] == 0 || keys[1] == 0 || keys[2] == 0) {
        begin_to_ask(&door, keys);
    }
    touch(&door, keys[0], true);
    pass(&door, 5);
    touch(&door, keys[1], true);
    pass(&door, 5);
    touch(&door, keys[2], true);
    pass(&door, 5);
    assert_int_equal(uvk_door_state(&door.keyboard.engine), UVK_DOOR_IS_OPEN);
    for (unsigned i = 0; i < UVK_DOOR_KEYS; i++) {
        touch(&door, keys[i], false);
        pass(&door, 20);
    }
    assert_reports(&door.keyboard, NULL);
    tap(&door, 1);
    assert_reports(&door.keyboard, "keys 00 05", "keys 00", NULL);
    keyboard_close(&door.keyboard);
}

static void nobody_presses(void **state)
{
    static struct door door;
    uint8_t keys[UVK_DOOR_KEYS];
    uint8_t out[UVK_DOOR_CONTENT];

    (void)state;
    open_keyboard(&door, KEYMAP(PLAIN));
    begin_to_ask(&door, keys);
    pass(&door, UVK_DOOR_ASKS_S * 1000 - 10);
    assert_int_equal(uvk_door_state(&door.keyboard.engine), UVK_DOOR_ASKS);
    pass(&door, 20);
    assert_int_equal(ask(&door, UVK_DOOR_ASKED, NULL, 0, out), UVK_DOOR_DONE);
    assert_int_equal(out[0], UVK_DOOR_CLOSED);
    assert_int_equal(out[1], UVK_DOOR_TOO_LATE);
    keyboard_close(&door.keyboard);
}

/* Who it is may be asked for ever; that does not keep it open. */
static void it_closes_after_ten_minutes(void **state)
{
    static struct door door;

    (void)state;
    open_keyboard(&door, KEYMAP(PLAIN));
    open_door(&door);
    pass(&door, (UVK_DOOR_OPEN_S - 1) * 1000);
    assert_int_equal(ask_plain(&door, UVK_DOOR_STAGED), UVK_DOOR_DONE);
    for (unsigned i = 0; i < UVK_DOOR_OPEN_S - 1; i++) {
        pass(&door, 1000);
        assert_int_equal(ask_plain(&door, UVK_DOOR_WHO), UVK_DOOR_DONE);
    }
    assert_int_equal(uvk_door_state(&door.keyboard.engine), UVK_DOOR_IS_OPEN);
    pass(&door, 2000);
    assert_int_equal(ask_plain(&door, UVK_DOOR_STAGED), UVK_DOOR_IS_CLOSED);
    keyboard_close(&door.keyboard);
}

/* ---- watching ---------------------------------------------------------------------------- */

static unsigned next_events(struct door *door, uint8_t out[UVK_DOOR_BYTES])
{
    if (!uvk_door_next(&door->keyboard.engine, out)) {
        return 0;
    }
    assert_int_equal(out[0], 0);
    assert_in_range(out[1], 1, UVK_EVENTS_A_REPORT);
    return out[1];
}

static void what_happens_is_told_in_order(void **state)
{
    static const uint8_t expected[][2] = {
        {UVK_EVENT_LAYERS | UVK_EVENT_ON, 0},
        {UVK_EVENT_CONTACT | UVK_EVENT_ON, 8},
        {UVK_EVENT_DECISION, 8},
        {UVK_EVENT_LAYERS | UVK_EVENT_ON, 1},
        {UVK_EVENT_CONTACT | UVK_EVENT_ON, 1},
        {UVK_EVENT_DECISION, 1},
        {UVK_EVENT_CONTACT, 1},
        {UVK_EVENT_CONTACT, 8},
        {UVK_EVENT_LAYERS, 1},
    };
    static struct door door;
    const uint8_t all = 0x0E;
    uint8_t out[UVK_DOOR_BYTES];
    unsigned seen = 0;

    (void)state;
    open_keyboard(&door, KEYMAP(PLAIN));
    open_door(&door);
    assert_int_equal(ask(&door, UVK_DOOR_WATCH, &all, 1, NULL), UVK_DOOR_DONE);
    for (unsigned ms = 0; ms < 200; ms++) {
        unsigned count;
        if (ms == 10 || ms == 50) {
            touch(&door, 8, ms == 10);
        } else if (ms == 20 || ms == 30) {
            touch(&door, 1, ms == 20);
        }
        pass(&door, 1);
        while ((count = next_events(&door, out)) > 0) {
            assert_int_equal(out[2] | out[3] << 8, seen);
            for (unsigned i = 0; i < count; i++, seen++) {
                assert_in_range(seen, 0, G_N_ELEMENTS(expected) - 1);
                assert_int_equal(out[4 + UVK_EVENT_BYTES * i], expected[seen][0]);
                assert_int_equal(out[5 + UVK_EVENT_BYTES * i], expected[seen][1]);
            }
        }
    }
    assert_int_equal(seen, G_N_ELEMENTS(expected));
    keyboard_close(&door.keyboard);
}

/* Nobody fetches for a while: what is told then has a gap before it. */
static void what_was_lost_can_be_counted(void **state)
{
    static struct door door;
    const uint8_t contacts = 1u << UVK_EVENT_CONTACT;
    uint8_t out[UVK_DOOR_BYTES];
    unsigned told = 0;
    unsigned count;

    (void)state;
    open_keyboard(&door, KEYMAP(PLAIN));
    open_door(&door);
    assert_int_equal(ask(&door, UVK_DOOR_WATCH, &contacts, 1, NULL), UVK_DOOR_DONE);
    for (unsigned i = 0; i < 20; i++) {
        tap(&door, 1); /* two events each */
    }
    while ((count = next_events(&door, out)) > 0) {
        assert_int_equal(out[2] | out[3] << 8, told);
        told += count;
    }
    assert_int_equal(told, UVK_EVENTS_KEPT);
    tap(&door, 1);
    assert_in_range(next_events(&door, out), 1, 2);
    assert_int_equal(out[2] | out[3] << 8, 40);
    keyboard_close(&door.keyboard);
}

/* ---- changes ----------------------------------------------------------------------------- */

/* Make it do what TEXT says; milliseconds until it does. */
static unsigned change_to(struct door *door, const char *text)
{
    static struct uvk_changes changes;
    struct uvk_program *other = good_program(text);
    struct uvk_image built;
    struct uvk_image wanted;
    uint16_t size;
    uint8_t *bytes = uvk_lower(other, &size);
    unsigned needed;
    unsigned ms = 0;
    uint8_t out[UVK_DOOR_CONTENT];

    assert_int_equal(uvk_image_open(&built, door->keyboard.image, door->keyboard.size), UVK_OK);
    assert_int_equal(uvk_image_open(&wanted, bytes, size), UVK_OK);
    assert_int_equal(uvk_image_fit(&built, &wanted, &changes, &needed), UVK_FITS);
    for (uint16_t at = 0; at < needed; at = (uint16_t)(at + 27)) {
        uint8_t content[UVK_DOOR_CONTENT] = {(uint8_t)at, 0, (uint8_t)MIN(27, needed - at)};
        memcpy(content + 3, changes.room + at, content[2]);
        assert_int_equal(ask(door, UVK_DOOR_WRITE, content, sizeof content, NULL),
                         UVK_DOOR_DONE);
    }
    assert_int_equal(ask(door, UVK_DOOR_TAKE, (uint8_t *)&changes.base, 12, NULL),
                     UVK_DOOR_DONE);
    do {
        pass(door, 1);
        ms++;
        assert_int_equal(ask(door, UVK_DOOR_STAGED, NULL, 0, out), UVK_DOOR_DONE);
        assert_in_range(ms, 1, 100);
    } while (out[0] != UVK_STAGED_TAKEN);
    g_free(bytes);
    uvk_program_free(other);
    return ms;
}

static void wait_until_kept(struct door *door)
{
    uint8_t out[UVK_DOOR_CONTENT] = {0};

    for (unsigned ms = 0; ms < 10000 && out[2] == 0; ms += 10) {
        pass(door, 10);
        assert_int_equal(ask(door, UVK_DOOR_STAGED, NULL, 0, out), UVK_DOOR_DONE);
    }
    assert_int_equal(out[2], 1);
}

static void what_was_changed_is_there_again(void **state)
{
    static struct door door;
    uint8_t first[UVK_DOOR_CONTENT];
    uint8_t out[UVK_DOOR_CONTENT];

    (void)state;
    open_keyboard(&door, KEYMAP(PLAIN));
    assert_int_equal(ask(&door, UVK_DOOR_WHO, NULL, 0, first), UVK_DOOR_DONE);
    open_door(&door);
    assert_in_range(change_to(&door, KEYMAP("a x c d/shift reel f g h top")), 1, 5);
    wait_until_kept(&door);
    /* a second change before the first is kept: the second one counts */
    (void)change_to(&door, KEYMAP("a y c d/shift reel f g h top"));
    pass(&door, 3);
    (void)change_to(&door, KEYMAP("a z c d/shift reel f g h top"));
    wait_until_kept(&door);
    start(&door);
    pass(&door, 5);
    tap(&door, 1);
    assert_reports(&door.keyboard, "keys 00 1D", "keys 00", NULL);
    assert_int_equal(ask(&door, UVK_DOOR_WHO, NULL, 0, out), UVK_DOOR_DONE);
    assert_memory_equal(out + 4, first + 4, 4); /* its serial number */
    /* another firmware: the changes are not for it, and it says so */
    keyboard_close(&door.keyboard);
    keyboard_open(&door.keyboard, KEYMAP("q b c d/shift reel f g h top"));
    door.keyboard.host_fetches = true;
    start(&door);
    pass(&door, 5);
    tap(&door, 1);
    assert_reports(&door.keyboard, "keys 00 05", "keys 00", NULL);
    assert_int_equal(ask(&door, UVK_DOOR_WHO, NULL, 0, out), UVK_DOOR_DONE);
    assert_int_equal(out[1] >> 4, UVK_DOOR_KEEPS_OTHER);
    assert_memory_equal(out + 4, first + 4, 4);
    keyboard_close(&door.keyboard);
}

/* A keymap without the block has no door at all. */
static void without_a_room_there_is_no_door(void **state)
{
    static struct door door;

    (void)state;
    open_keyboard(&door, KEYMAP9("a b c d e f g h i"));
    assert_false(uvk_door_is_free(&door.keyboard.engine));
    pass(&door, 5);
    tap(&door, 0);
    assert_reports(&door.keyboard, "keys 00 04", "keys 00", NULL);
    keyboard_close(&door.keyboard);
}

/* ---- presses that are only told --------------------------------------------------------- */

#define KEEPS (UVK_WATCH_KEEPS | 1u << UVK_EVENT_CONTACT | 1u << UVK_EVENT_SWITCH)

/* All events that wait: "+4" key 4 went down, "-4" up, "=4" it was down before, "~4/1" a turn
 * that missed one change, "?2.1" a switch without a key. */
static char *told(struct door *door)
{
    GString *text = g_string_new(NULL);
    uint8_t out[UVK_DOOR_BYTES];
    unsigned count;

    while ((count = next_events(door, out)) > 0) {
        for (unsigned i = 0; i < count; i++) {
            const uint8_t *event = out + 4 + UVK_EVENT_BYTES * i;
            bool on = (event[0] & UVK_EVENT_ON) != 0;
            if ((event[0] & ~UVK_EVENT_ON) == UVK_EVENT_SWITCH) {
                g_string_append_printf(text, "%s?%d.%d ", on ? "" : "no", event[1], event[4]);
            } else if (event[4] > 0) {
                g_string_append_printf(text, "~%d/%d ", event[1], event[4]);
            } else {
                g_string_append_printf(text, "%s%d ",
                                       event[5] ? "="
                                       : on     ? "+"
                                                : "-",
                                       event[1]);
            }
        }
    }
    return g_string_free(text, FALSE);
}

static void expect_told(struct door *door, const char *expected)
{
    char *text = told(door);

    assert_string_equal(text, expected);
    g_free(text);
}

static void keep(struct door *door, uint8_t mask)
{
    assert_int_equal(ask(door, UVK_DOOR_WATCH, &mask, 1, NULL), UVK_DOOR_DONE);
}

static void presses_are_kept_while_somebody_tries_keys(void **state)
{
    static struct door door;

    (void)state;
    open_keyboard(&door, KEYMAP(PLAIN));
    open_door(&door);
    pass(&door, 20);
    g_ptr_array_set_size(door.keyboard.reports, 0);
    keep(&door, KEEPS);
    tap(&door, 0);
    tap(&door, 8); /* no layer either */
    tap(&door, 4); /* and no macro */
    expect_told(&door, "+0 -0 +8 -8 +4 -4 ");
    assert_int_equal(door.keyboard.reports->len, 0);
    /* no request for three seconds: they are typed again; one request, and they are not */
    pass(&door, 2000);
    tap(&door, 0);
    assert_int_equal(door.keyboard.reports->len, 0);
    pass(&door, 2000);
    tap(&door, 1);
    assert_reports(&door.keyboard, "keys 00 05", "keys 00", NULL);
    assert_int_equal(ask_plain(&door, UVK_DOOR_STAGED), UVK_DOOR_DONE);
    tap(&door, 1);
    assert_int_equal(door.keyboard.reports->len, 0);
    keep(&door, 0);
    tap(&door, 2);
    assert_reports(&door.keyboard, "keys 00 06", "keys 00", NULL);
    keyboard_close(&door.keyboard);
}

/* A key that goes down in one time and comes up in the other hangs nowhere. */
static void keys_that_are_down_at_the_change_come_up(void **state)
{
    static struct door door;

    (void)state;
    open_keyboard(&door, KEYMAP(PLAIN));
    open_door(&door);
    pass(&door, 20);
    touch(&door, 0, true);
    touch(&door, 3, true); /* d/shift: still waits */
    pass(&door, 10);
    g_ptr_array_set_size(door.keyboard.reports, 0);
    keep(&door, KEEPS);
    pass(&door, 10);
    expect_told(&door, "=0 =3 ");
    touch(&door, 0, false);
    touch(&door, 3, false);
    pass(&door, 30);
    assert_true(uvk_engine_idle(&door.keyboard.engine));
    g_ptr_array_set_size(door.keyboard.reports, 0);
    touch(&door, 1, true);
    pass(&door, 10);
    keep(&door, 0);
    touch(&door, 1, false);
    pass(&door, 30);
    assert_int_equal(door.keyboard.reports->len, 0);
    tap(&door, 1);
    assert_reports(&door.keyboard, "keys 00 05", "keys 00", NULL);
    keyboard_close(&door.keyboard);
}

/* Of nine places eight are keys. */
#define EIGHT                                                                                  \
    "board eight {\n chip atmega32u4\n usb { vendor 0x1209; product 0x0009; maker \"T\" }\n"   \
    " matrix { rows B1 B3 B2; cols F4 F5 F6; flow row->col; spare r2c2 }\n keys { r0c0 r0c1 "  \
    "r0c2; r1c0 r1c1 r1c2; r2c0 r2c1 } }\nkeymap k {\n live { room 64 }\n layer base { a b c " \
    "d e "                                                                                     \
    "f g h } }\n"

static void switches_without_a_key_are_told(void **state)
{
    static struct door door;

    (void)state;
    open_keyboard(&door, EIGHT);
    open_door(&door);
    keep(&door, KEEPS);
    keyboard_contact(&door.keyboard, "r2c2", true);
    pass(&door, 20);
    keyboard_contact(&door.keyboard, "r2c2", false);
    pass(&door, 20);
    expect_told(&door, "?2.2 no?2.2 ");
    keyboard_contact(&door.keyboard, "r2c2", true);
    pass(&door, 20);
    expect_told(&door, "?2.2 ");
    keep(&door, KEEPS);
    pass(&door, 20);
    expect_told(&door, "?2.2 "); /* to whoever begins, once more */
    keyboard_close(&door.keyboard);
}

static uint8_t phases;

static uint8_t read_knob(void *owner, uint8_t knob)
{
    (void)owner;
    (void)knob;
    return phases;
}

static void turn_to(struct door *door, uint8_t next)
{
    phases = next;
    pass(door, 3);
}

static void turns_are_told_with_what_they_missed(void **state)
{
    static struct door door;

    (void)state;
    phases = 0;
    open_keyboard(&door,
                  BOARD9_KNOB "keymap k {\n live { room 64 }\n layer base { a b c d e f g "
                              "h i; knob jog x y } }\n");
    door.keyboard.port.read_knob = read_knob;
    open_door(&door);
    pass(&door, 20);
    g_ptr_array_set_size(door.keyboard.reports, 0);
    keep(&door, KEEPS);
    for (unsigned i = 0; i < 4; i++) {
        static const uint8_t clockwise[] = {1, 3, 2, 0};
        turn_to(&door, clockwise[i]);
    }
    expect_told(&door, "+10 ");
    turn_to(&door, 1);
    turn_to(&door, 2); /* one was too fast */
    turn_to(&door, 0);
    expect_told(&door, "~10/1 ");
    assert_int_equal(door.keyboard.reports->len, 0);
    keep(&door, 0);
    for (unsigned i = 0; i < 4; i++) {
        static const uint8_t back[] = {2, 3, 1, 0};
        turn_to(&door, back[i]);
    }
    pass(&door, 20);
    assert_reports(&door.keyboard, "keys 00 1B", "keys 00", NULL);
    keyboard_close(&door.keyboard);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(presses_are_kept_while_somebody_tries_keys),
        cmocka_unit_test(keys_that_are_down_at_the_change_come_up),
        cmocka_unit_test(switches_without_a_key_are_told),
        cmocka_unit_test(turns_are_told_with_what_they_missed),
        cmocka_unit_test(any_keys_are_picked),
        cmocka_unit_test(presses_that_open_it_are_typed_nowhere),
        cmocka_unit_test(nobody_presses),
        cmocka_unit_test(it_closes_after_ten_minutes),
        cmocka_unit_test(what_happens_is_told_in_order),
        cmocka_unit_test(what_was_lost_can_be_counted),
        cmocka_unit_test(what_was_changed_is_there_again),
        cmocka_unit_test(without_a_room_there_is_no_door),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
