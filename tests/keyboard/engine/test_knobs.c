/* Knobs, contact by contact: detents, bounce, missed looks, a full queue. */
#include "keyboard.h"

#include <stdlib.h>
#include <string.h>

/* Nine keys and a knob whose turns are the left and right arrows. */
#define TURNS(detent)                                                                          \
    "board k {\n chip atmega32u4\n matrix { rows B1 B3 B2; cols F4 F5 F6; flow row->col }\n"   \
    " knob jog { pins D0 D1; detent " detent " }\n keys {\n r0c0 r0c1 r0c2 =jog\n r1c0 r1c1 "  \
    "r1c2\n r2c0 r2c1 r2c2\n }\n}\n"                                                           \
    "keymap k { layer base { a b c d e f g h i; knob jog left right } }\n"

static uint8_t phases;

static uint8_t read_knob(void *owner, uint8_t knob)
{
    (void)owner;
    assert_int_equal(knob, 0);
    return phases;
}

static void open_knob(struct keyboard *keyboard, const char *text)
{
    phases = 0;
    keyboard_open(keyboard, text);
    keyboard->port.read_knob = read_knob;
}

/* The cycle clockwise: the first contact closes, the second, the first opens, the second. */
static const uint8_t cycle[] = {0, 1, 3, 2};

/* STEPS places on in the cycle, a pass for each. */
static void turn(struct keyboard *keyboard, unsigned *place, int steps)
{
    for (int i = 0; i < abs(steps); i++) {
        *place = (*place + (steps > 0 ? 1u : 3u)) & 3u;
        phases = cycle[*place];
        keyboard_pass(keyboard, 4);
    }
}

/* Presses of left (50) and right (4F) so far. */
static void assert_turns(struct keyboard *keyboard, unsigned left, unsigned right)
{
    unsigned found[2] = {0, 0};

    keyboard_pass(keyboard, 20);
    for (guint i = 0; i < keyboard->reports->len; i++) {
        found[0] += strcmp(g_ptr_array_index(keyboard->reports, i), "keys 00 50") == 0;
        found[1] += strcmp(g_ptr_array_index(keyboard->reports, i), "keys 00 4F") == 0;
    }
    assert_int_equal(found[0], left);
    assert_int_equal(found[1], right);
}

static void four_changes_are_a_step(void **state)
{
    static struct keyboard keyboard;
    unsigned place = 0;

    (void)state;
    open_knob(&keyboard, TURNS("4"));
    turn(&keyboard, &place, 3);
    assert_turns(&keyboard, 0, 0); /* between two detents nothing has happened */
    turn(&keyboard, &place, 1);
    assert_turns(&keyboard, 0, 1);
    turn(&keyboard, &place, 8);
    assert_turns(&keyboard, 0, 3);
    turn(&keyboard, &place, -4);
    assert_turns(&keyboard, 1, 3);
    keyboard_close(&keyboard);
}

static void half_way_and_back_is_nothing(void **state)
{
    static struct keyboard keyboard;
    unsigned place = 0;

    (void)state;
    open_knob(&keyboard, TURNS("4"));
    turn(&keyboard, &place, 2);
    turn(&keyboard, &place, -2);
    turn(&keyboard, &place, -3);
    turn(&keyboard, &place, 3);
    assert_turns(&keyboard, 0, 0);
    keyboard_close(&keyboard);
}

static void two_changes_and_one(void **state)
{
    static struct keyboard keyboard;
    unsigned place = 0;

    (void)state;
    open_knob(&keyboard, TURNS("2"));
    turn(&keyboard, &place, 6);
    turn(&keyboard, &place, -2);
    assert_turns(&keyboard, 1, 3);
    keyboard_close(&keyboard);
    place = 0;
    open_knob(&keyboard, TURNS("1"));
    turn(&keyboard, &place, 3);
    turn(&keyboard, &place, -5);
    assert_turns(&keyboard, 5, 3);
    keyboard_close(&keyboard);
}

/* A contact that chatters goes back and forth any number of times. */
static void bounce_adds_up_to_nothing(void **state)
{
    static struct keyboard keyboard;
    GRand *random = g_rand_new_with_seed(5);
    unsigned place = 0;

    (void)state;
    open_knob(&keyboard, TURNS("4"));
    for (unsigned step = 0; step < 400; step++) {
        bool forward = step / 40 % 2 == 0;
        unsigned next = (place + (forward ? 1u : 3u)) & 3u;
        for (int i = g_rand_int_range(random, 0, 6); i > 0; i--) {
            phases = cycle[g_rand_boolean(random) ? next : place];
            keyboard_pass(&keyboard, 1);
        }
        place = next;
        phases = cycle[place];
        keyboard_pass(&keyboard, 3);
    }
    assert_turns(&keyboard, 50, 50);
    g_rand_free(random);
    keyboard_close(&keyboard);
}

/* Every other look is missed: the knob goes on the way it was going. */
static void missed_looks_are_made_up(void **state)
{
    static struct keyboard keyboard;
    unsigned place = 0;

    (void)state;
    open_knob(&keyboard, TURNS("4"));
    for (unsigned detent = 0; detent < 10; detent++) {
        turn(&keyboard, &place, 1); /* seen */
        place = (place + 2u) & 3u;  /* two at once */
        phases = cycle[place];
        keyboard_pass(&keyboard, 4);
        turn(&keyboard, &place, 1);
    }
    assert_turns(&keyboard, 0, 10);
    keyboard_close(&keyboard);
}

/* A mistake does not outlive the detent: after it, the count is right again. */
static void a_detent_sets_it_right(void **state)
{
    static struct keyboard keyboard;
    unsigned place = 0;

    (void)state;
    open_knob(&keyboard, TURNS("4"));
    turn(&keyboard, &place, 4);
    place = 1; /* a look at a place out of nowhere */
    phases = cycle[place];
    keyboard_pass(&keyboard, 4);
    place = 0;
    phases = cycle[place];
    keyboard_pass(&keyboard, 4);
    turn(&keyboard, &place, 4);
    turn(&keyboard, &place, -4);
    assert_turns(&keyboard, 1, 2);
    keyboard_close(&keyboard);
}

/* It may stand between two detents when the keyboard starts. */
static void where_it_starts_does_not_matter(void **state)
{
    static struct keyboard keyboard;
    unsigned place = 3;

    (void)state;
    open_knob(&keyboard, TURNS("4"));
    phases = cycle[3];
    keyboard_pass(&keyboard, 3);
    turn(&keyboard, &place, 1); /* to the detent */
    turn(&keyboard, &place, 4);
    assert_turns(&keyboard, 0, 1);
    keyboard_close(&keyboard);
}

/* While the host does not fetch, steps wait: first in the queue, then with the knob. */
static void no_step_is_lost(void **state)
{
    static struct keyboard keyboard;
    unsigned place = 0;

    (void)state;
    open_knob(&keyboard, TURNS("4"));
    keyboard.host_fetches = false;
    turn(&keyboard, &place, 4 * 60);
    assert_int_equal(keyboard.engine.queue.count, UVK_QUEUE);
    keyboard.host_fetches = true;
    keyboard_pass(&keyboard, 200);
    assert_turns(&keyboard, 0, 60);
    keyboard_close(&keyboard);
}

/* Where the host does not fetch for long, a hundred steps are owed, either way, and no more:
 * those that wait in the queue, the one under way, and a hundred. */
static void so_many_steps_are_owed(void **state)
{
    static struct keyboard keyboard;
    unsigned place = 0;

    (void)state;
    for (int way = -1; way <= 1; way += 2) {
        const unsigned steps = UVK_QUEUE / 2 + 1 + 100;
        place = 0;
        open_knob(&keyboard, TURNS("1"));
        keyboard.host_fetches = false;
        turn(&keyboard, &place, way * 400);
        keyboard.host_fetches = true;
        keyboard_pass(&keyboard, 1200);
        assert_turns(&keyboard, way < 0 ? steps : 0, way > 0 ? steps : 0);
        assert_int_equal(keyboard.engine.turning[0].owed, 0);
        keyboard_close(&keyboard);
    }
}

/* Keys and turns come in the order of the fingers. */
static void turns_and_keys_keep_their_order(void **state)
{
    static struct keyboard keyboard;
    unsigned place = 0;

    (void)state;
    open_knob(&keyboard, TURNS("4"));
    keyboard.host_fetches = false;
    keyboard_contact(&keyboard, "r0c0", true);
    keyboard_pass(&keyboard, 10);
    turn(&keyboard, &place, 4);
    keyboard_contact(&keyboard, "r0c0", false);
    keyboard_pass(&keyboard, 10);
    turn(&keyboard, &place, -4);
    keyboard.host_fetches = true;
    keyboard_pass(&keyboard, 30);
    assert_reports(&keyboard, "keys 00 04", "keys 00 04 4F", "keys 00 04", "keys 00",
                   "keys 00 50", "keys 00", NULL);
    keyboard_close(&keyboard);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(four_changes_are_a_step),
        cmocka_unit_test(half_way_and_back_is_nothing),
        cmocka_unit_test(two_changes_and_one),
        cmocka_unit_test(bounce_adds_up_to_nothing),
        cmocka_unit_test(missed_looks_are_made_up),
        cmocka_unit_test(a_detent_sets_it_right),
        cmocka_unit_test(where_it_starts_does_not_matter),
        cmocka_unit_test(no_step_is_lost),
        cmocka_unit_test(so_many_steps_are_owed),
        cmocka_unit_test(turns_and_keys_keep_their_order),
    };
    return cmocka_run_group_tests_name("knobs", tests, NULL, NULL);
}
