/* What the keys that were tried come to: each kind of fault, told once, with the keys and wires
 * it is about. */
#include "support.h"

#include "uvrek/keytest.h"

#include <string.h>

#define DEBOUNCE 5u

struct trial {
    struct uvk_program *program;
    struct uvk_keytest *test;
    uint64_t ms;
};

static struct trial begin(const char *text, bool probe)
{
    struct trial trial = {good_program(text), NULL, 0};

    trial.test = uvk_keytest_new(trial.program->board, DEBOUNCE, probe, 0);
    return trial;
}

static void end(struct trial *trial)
{
    uvk_keytest_free(trial->test);
    uvk_program_free(trial->program);
}

static void contact(struct trial *trial, unsigned key, bool down)
{
    const struct uvk_live_event event = {
        .kind = UVK_EVENT_CONTACT, .on = down, .key = (uint8_t)key};

    (void)uvk_keytest_take(trial->test, &event, trial->ms);
}

/* As a finger does it, with time before the next one. */
static void tap(struct trial *trial, unsigned key)
{
    contact(trial, key, true);
    trial->ms += 80;
    contact(trial, key, false);
    trial->ms += 120;
}

static void tap_all_but(struct trial *trial, const char *const *without)
{
    for (unsigned key = 0; key < trial->program->board->key_count; key++) {
        char *place = uvk_cell_place(trial->program->board, key);
        if (without == NULL || !g_strv_contains(without, place)) {
            tap(trial, key);
        }
        g_free(place);
    }
}

/* All findings, a line each: "kind: sentence". */
static char *findings(const struct trial *trial)
{
    GPtrArray *list = uvk_keytest_findings(trial->test);
    GString *out = g_string_new(NULL);

    for (guint i = 0; i < list->len; i++) {
        const struct uvk_finding *finding = list->pdata[i];
        g_string_append_printf(out, "%s: %s\n", uvk_finding_name(finding->kind), finding->text);
    }
    g_ptr_array_unref(list);
    return g_string_free(out, FALSE);
}

static void expect_findings(const struct trial *trial, const char *expected)
{
    char *text = findings(trial);

    assert_string_equal(text, expected);
    g_free(text);
}

static void all_keys_that_come_are_well(void **state)
{
    struct trial trial = begin(BOARD9, false);

    (void)state;
    assert_int_equal(uvk_keytest_missing(trial.test), 9);
    tap_all_but(&trial, NULL);
    assert_int_equal(uvk_keytest_missing(trial.test), 0);
    expect_findings(&trial, "");
    uvk_keytest_reset(trial.test);
    assert_int_equal(uvk_keytest_missing(trial.test), 9);
    end(&trial);
}

/* The fewest wires that explain what is missing. */
static void what_is_missing_is_blamed_on_what_it_shares(void **state)
{
    static const struct {
        const char *without[6];
        const char *told;
    } trials[] = {
        {{"r1c2", NULL},
         "key: r1c2 alone has not come: its switch, its diode, or a joint, between row r1 (B3) "
         "and "
         "column c2 (F6)\n"},
        {{"r0c1", "r1c1", "r2c1", NULL},
         "wire: nothing of column c1 (F5) has come (r0c1 r1c1 r2c1): look at that wire and its "
         "pin\n"},
        {{"r0c0", "r0c1", "r0c2", "r2c2", NULL},
         "wire: nothing of row r0 (B1) has come (r0c0 r0c1 r0c2): look at that wire and its "
         "pin\n"
         "key: r2c2 alone has not come: its switch, its diode, or a joint, between row r2 (B2) "
         "and "
         "column c2 (F6)\n"},
        {{"r0c0", "r0c1", "r0c2", "r1c0", "r2c0", NULL},
         "wire: nothing of row r0 (B1) has come (r0c0 r0c1 r0c2): look at that wire and its "
         "pin\n"
         "wire: nothing of column c0 (F4) has come (r0c0 r1c0 r2c0): look at that wire and its "
         "pin\n"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(trials); i++) {
        struct trial trial = begin(BOARD9, false);
        tap_all_but(&trial, trials[i].without);
        expect_findings(&trial, trials[i].told);
        end(&trial);
    }
}

static void nothing_at_all_has_a_cause_of_its_own(void **state)
{
    struct trial trial = begin(BOARD9, false);
    char *text = findings(&trial);

    (void)state;
    assert_non_null(
        strstr(text, "nothing: no key has come: are the diodes the other way round"));
    assert_null(strstr(text, "wire:"));
    g_free(text);
    end(&trial);
}

static void a_half_that_is_gone_is_told_once(void **state)
{
    struct uvk_program *program = shipped("translator");
    struct trial trial = {program, uvk_keytest_new(program->board, DEBOUNCE, false, 0), 0};
    char *text;

    (void)state;
    for (unsigned key = 0; key < program->board->key_count; key++) {
        if (program->board->keys[key].half == 0) {
            tap(&trial, key);
        }
    }
    text = findings(&trial);
    assert_string_equal(text,
                        "nothing: nothing of the half 'right' has come: look at its cable, "
                        "and at whether its controller runs\n");
    g_free(text);
    end(&trial);
}

static void a_key_that_opens_by_itself_chatters(void **state)
{
    struct trial trial = begin(BOARD9, false);

    (void)state;
    tap_all_but(&trial, NULL);
    contact(&trial, 4, true);
    trial.ms += 30;
    contact(&trial, 4, false);
    trial.ms += 6;
    contact(&trial, 4, true);
    trial.ms += 60;
    contact(&trial, 4, false);
    expect_findings(&trial,
                    "chatter: r1c1 chatters: while it was held it opened and closed again 1 "
                    "time, for up to 11 ms (debounce covers 5 ms): clean or replace its "
                    "switch\n");
    /* a finger that comes back is slower */
    uvk_keytest_reset(trial.test);
    tap_all_but(&trial, NULL);
    trial.ms += UVK_CHATTER_MS;
    tap(&trial, 8);
    expect_findings(&trial, "");
    end(&trial);
}

static void keys_that_are_joined_come_together(void **state)
{
    static const char *const others[] = {"r0c0", "r0c1", NULL};
    struct trial trial = begin(BOARD9, false);

    (void)state;
    tap_all_but(&trial, others);
    for (unsigned i = 0; i < 2; i++) {
        contact(&trial, 0, true);
        contact(&trial, 1, true);
        trial.ms += 80;
        contact(&trial, 1, false);
        contact(&trial, 0, false);
        trial.ms += 20; /* as fast as no finger, but it is the other key's turn */
    }
    expect_findings(&trial, "together: r0c0 and r0c1 always come together: column c0 (F4) and "
                            "column c1 (F5) are joined\n");
    /* once alone is enough to clear them */
    trial.ms += 100;
    tap(&trial, 0);
    expect_findings(&trial, "");
    end(&trial);
}

static void a_key_that_was_down_before_is_stuck(void **state)
{
    static const char *const stuck[] = {"r2c1", NULL};
    const struct uvk_live_event before = {
        .kind = UVK_EVENT_CONTACT, .on = true, .before = true, .key = 7};
    struct trial trial = begin(BOARD9, false);

    (void)state;
    assert_int_equal(uvk_keytest_take(trial.test, &before, 0), 7);
    assert_false(uvk_keytest_is_down(trial.test));
    tap_all_but(&trial, stuck);
    expect_findings(&trial,
                    "stuck: r2c1 was down from the start: its switch is stuck, or its two "
                    "wires are joined there\n");
    contact(&trial, 7, false); /* somebody's finger, then */
    expect_findings(&trial, "");
    end(&trial);
}

static void knobs_turn_both_ways_and_miss_nothing(void **state)
{
    struct trial trial = begin(BOARD9_KNOB, false);
    struct uvk_live_event turn = {.kind = UVK_EVENT_CONTACT, .on = true, .key = 10};

    (void)state;
    tap_all_but(&trial, NULL);
    (void)uvk_keytest_take(trial.test, &turn, trial.ms);
    (void)uvk_keytest_take(trial.test, &turn, trial.ms);
    assert_int_equal(uvk_keytest_seen(trial.test, 10)->presses, 2);
    expect_findings(&trial, "knob: jog has not turned to the left\n");
    turn.key = 9;
    turn.missed = 3;
    (void)uvk_keytest_take(trial.test, &turn, trial.ms);
    expect_findings(&trial,
                    "knob: jog: 3 changes of its contacts came too fast to be seen one by "
                    "one; if it is turned slowly, a contact fails\n");
    end(&trial);
}

/* ---- a probe knows pins only ------------------------------------------------------------ */

static unsigned pin_number(const struct trial *trial, const char *name)
{
    const struct uvk_chip *chip = trial->program->board->chip;

    return name == NULL ? (unsigned)chip->pin_count
                        : (unsigned)(uvk_chip_pin(chip, name) - chip->pins);
}

/* LOW was low, and so was HIGH; LOW NULL: ground. */
static int probe(struct trial *trial, const char *low, const char *high)
{
    struct uvk_live_event event = {.kind = UVK_EVENT_SWITCH,
                                   .on = true,
                                   .key = (uint8_t)pin_number(trial, low),
                                   .sense = (uint8_t)pin_number(trial, high)};
    int cell = uvk_keytest_take(trial->test, &event, trial->ms);

    trial->ms += 80;
    event.on = false;
    (void)uvk_keytest_take(trial->test, &event, trial->ms);
    trial->ms += 120;
    return cell;
}

static void pins_are_keys_of_the_file_or_strays(void **state)
{
    struct trial trial = begin(BOARD9_KNOB, true);
    char *text;

    (void)state;
    assert_int_equal(probe(&trial, "F4", "B1"), 0);
    assert_int_equal(probe(&trial, "F6", "B2"), 8);
    assert_int_equal(probe(&trial, "B1", "F4"), UVK_TAKEN_STRAY); /* against the diode */
    assert_int_equal(probe(&trial, NULL, "C6"), UVK_TAKEN_STRAY);
    assert_int_equal(probe(&trial, NULL, "D0"), UVK_TAKEN_NOTHING); /* the knob */
    assert_int_equal(uvk_keytest_missing(trial.test), 9);
    text = findings(&trial);
    assert_non_null(strstr(text,
                           "stray: a switch between F4 and B1 came 1 time; the file has no "
                           "key there\n"));
    assert_non_null(strstr(text, "stray: pin C6 was joined to ground 1 time"));
    assert_null(strstr(text, "D0"));
    g_free(text);
    end(&trial);
}

/* A contact of the knob closes or opens, MS after the last one. */
static int knob_contact(struct trial *trial, const char *pin, bool on, unsigned ms)
{
    struct uvk_live_event event = {.kind = UVK_EVENT_SWITCH,
                                   .on = on,
                                   .key = (uint8_t)pin_number(trial, NULL),
                                   .sense = (uint8_t)pin_number(trial, pin)};

    trial->ms += ms;
    return uvk_keytest_take(trial->test, &event, trial->ms);
}

/* From detent to detent, the contact FIRST before SECOND. The cell that the last change is
 * about. */
static int turn(struct trial *trial, const char *first, const char *second, unsigned ms)
{
    assert_int_equal(knob_contact(trial, first, true, ms), UVK_TAKEN_NOTHING);
    assert_int_equal(knob_contact(trial, second, true, ms), UVK_TAKEN_NOTHING);
    assert_int_equal(knob_contact(trial, first, false, ms), UVK_TAKEN_NOTHING);
    return knob_contact(trial, second, false, ms);
}

static void a_probe_counts_the_steps_of_a_knob(void **state)
{
    struct trial trial = begin(BOARD9_KNOB, true);
    char *text;

    (void)state;
    assert_int_equal(turn(&trial, "D0", "D1", 8), 10); /* to the right */
    text = findings(&trial);
    assert_non_null(strstr(text, "jog has not turned to the left"));
    assert_null(strstr(text, "to the right"));
    g_free(text);
    assert_int_equal(knob_contact(&trial, "D0", true, 8),
                     UVK_TAKEN_NOTHING); /* it bounces: no step */
    assert_int_equal(knob_contact(&trial, "D0", false, 8), UVK_TAKEN_NOTHING);
    assert_int_equal(turn(&trial, "D1", "D0", 8), 9);
    assert_int_equal(uvk_keytest_seen(trial.test, 9)->missed, 0);
    assert_int_equal(uvk_keytest_missing(trial.test), 9);
    assert_int_equal(knob_contact(&trial, "D0", true, 8),
                     UVK_TAKEN_NOTHING); /* both in one look */
    assert_int_equal(knob_contact(&trial, "D1", true, 0), UVK_TAKEN_NOTHING);
    assert_int_equal(knob_contact(&trial, "D0", false, 4), UVK_TAKEN_NOTHING);
    assert_int_equal(knob_contact(&trial, "D1", false, 4), 10);
    text = findings(&trial);
    assert_non_null(strstr(text, "jog: 1 change of its contacts came too fast"));
    g_free(text);
    end(&trial);
}

/* All diodes turned: a sentence, not one for each key. */
static void many_strays_and_no_key_are_told_once(void **state)
{
    struct trial trial = begin(BOARD9, true);
    char *text;

    (void)state;
    assert_int_equal(probe(&trial, "B1", "F4"), UVK_TAKEN_STRAY);
    assert_int_equal(probe(&trial, "B1", "F5"), UVK_TAKEN_STRAY);
    text = findings(&trial);
    assert_non_null(strstr(text, "nothing: no key has come"));
    assert_non_null(strstr(text, "stray: 2 switches came where the file has no key, the first "
                                 "between F4 and B1\n"));
    assert_null(strstr(text, "came 1 time"));
    g_free(text);
    end(&trial);
}

/* What is told from outside may name what there is not. */
static void any_event_is_taken(void **state)
{
    GRand *random = g_rand_new_with_seed(7);

    (void)state;
    for (unsigned probed = 0; probed < 2; probed++) {
        struct trial trial = begin(BOARD9_KNOB, probed != 0);
        for (unsigned i = 0; i < 20000; i++) {
            const struct uvk_live_event event = {
                .kind = (enum uvk_door_event)g_rand_int_range(random, 0, 8),
                .on = g_rand_boolean(random),
                .before = g_rand_int_range(random, 0, 20) == 0,
                .key = (uint8_t)g_rand_int_range(random, 0, 256),
                .sense = (uint8_t)g_rand_int_range(random, 0, 256),
                .missed = (uint8_t)g_rand_int_range(random, 0, 256)};
            trial.ms += (uint64_t)g_rand_int_range(random, 0, 50);
            assert_in_range(uvk_keytest_take(trial.test, &event, trial.ms) + 2, 0, 12);
        }
        g_free(findings(&trial));
        end(&trial);
    }
    g_rand_free(random);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(all_keys_that_come_are_well),
        cmocka_unit_test(what_is_missing_is_blamed_on_what_it_shares),
        cmocka_unit_test(nothing_at_all_has_a_cause_of_its_own),
        cmocka_unit_test(a_half_that_is_gone_is_told_once),
        cmocka_unit_test(a_key_that_opens_by_itself_chatters),
        cmocka_unit_test(keys_that_are_joined_come_together),
        cmocka_unit_test(a_key_that_was_down_before_is_stuck),
        cmocka_unit_test(knobs_turn_both_ways_and_miss_nothing),
        cmocka_unit_test(pins_are_keys_of_the_file_or_strays),
        cmocka_unit_test(a_probe_counts_the_steps_of_a_knob),
        cmocka_unit_test(many_strays_and_no_key_are_told_once),
        cmocka_unit_test(any_event_is_taken),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
