/* The journal, with the power cut at every byte that is written or erased. Built twice: with
 * the memory of a chip that writes byte by byte, and with one that erases sectors. */
#include <setjmp.h>
#include <stdarg.h>
#include <stddef.h>
#include <stdint.h>

#include <cmocka.h>

#include "uvrek/journal.h"
#include "uvrek/port.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define MEMORY  (2u * UVK_BANK_BYTES)
#define BOARD   0x3EA7u
#define KINDS   6u /* kinds 2 to 7 are used here */
#define FIRST   2u
/* of short records as long as they may be: both banks are full and more */
#define RECORDS (2u * UVK_BANK_BYTES / (UVK_RECORD_SHORT + UVK_RECORD_AROUND))

/* ---- a memory that can lose power ------------------------------------------------------- */

struct uvk_port {
    uint8_t memory[MEMORY];
    bool watched;  /* each byte that changes is a power cut that is tried */
    unsigned cuts; /* that were tried */
    unsigned wear[MEMORY];
};

static uint32_t seed = 1;

static uint32_t any(uint32_t limit)
{
    seed ^= seed << 13;
    seed ^= seed >> 17;
    seed ^= seed << 5;
    return seed % limit;
}

static void try_cut(const struct uvk_port *port, uint16_t at);

static void change(struct uvk_port *port, uint16_t at, uint8_t byte)
{
    if (port->watched) {
        port->cuts++;
        try_cut(port, at);
    }
    port->memory[at] = byte;
}

uint8_t uvk_port_memory_read(struct uvk_port *port, uint16_t at)
{
    assert_true(at < MEMORY);
    return port->memory[at];
}

bool uvk_port_memory_ready(struct uvk_port *port)
{
    (void)port;
    return true;
}

/* A byte is written once between two erasures. */
void uvk_port_memory_write(struct uvk_port *port, uint16_t at, const uint8_t *bytes,
                           uint8_t size)
{
    assert_in_range(size, 1, UVK_MEMORY_PIECE);
    assert_true(at + size <= MEMORY);
    for (uint8_t i = 0; i < size; i++) {
        assert_int_equal(port->memory[at + i], 0xFF);
        change(port, (uint16_t)(at + i), bytes[i]);
    }
}

void uvk_port_memory_erase(struct uvk_port *port, uint16_t at)
{
    assert_int_equal(at % UVK_ERASE_BYTES, 0);
    for (uint16_t i = 0; i < UVK_ERASE_BYTES; i++) {
        port->wear[at + i]++;
        change(port, (uint16_t)(at + i), 0xFF);
    }
}

/* ---- what is expected ------------------------------------------------------------------- */

struct value {
    uint8_t size; /* 0: there is none */
    uint8_t bytes[UVK_RECORD_SHORT];
};

/* And a long record, which has room beside all others. */
#define LONG_MOST (UVK_BANK_BYTES > 512u ? 3088u : 200u)
struct long_value {
    uint16_t size;
    uint8_t bytes[3088];
};

/* Before what is being done, and after it. */
static struct value before[KINDS], after[KINDS];
static struct long_value long_before, long_after;

static bool is_there(const struct uvk_journal *journal, struct uvk_port *port,
                     const struct value values[KINDS], const struct long_value *whole)
{
    static struct long_value read;

    read.size =
        uvk_journal_get(journal, port, UVK_RECORD_CHANGES, read.bytes, sizeof read.bytes);
    if (read.size != whole->size || memcmp(read.bytes, whole->bytes, read.size) != 0) {
        return false;
    }
    for (unsigned i = 0; i < KINDS; i++) {
        uint8_t out[UVK_RECORD_SHORT];
        uint16_t size =
            uvk_journal_get(journal, port, (enum uvk_record_kind)(FIRST + i), out, sizeof out);
        if (size != values[i].size || memcmp(out, values[i].bytes, size) != 0) {
            return false;
        }
    }
    return true;
}

static void finish(struct uvk_journal *journal, struct uvk_port *port)
{
    for (unsigned i = 0; i < 1000000 && !uvk_journal_is_idle(journal); i++) {
        uvk_journal_task(journal, port, 100, true);
    }
    assert_true(uvk_journal_is_idle(journal));
}

/* The power goes while the byte AT is being written: it may hold anything then. What is read
 * afterwards is what was, or what was to be, and the next record is kept as ever. */
static void try_cut(const struct uvk_port *port, uint16_t at)
{
    static struct uvk_port left;
    struct uvk_journal journal;
    struct value next = {3, {1, 2, 3}};
    uint8_t out[UVK_RECORD_SHORT];

    memcpy(left.memory, port->memory, MEMORY);
    left.memory[at] = (uint8_t)any(256);
    (void)uvk_journal_open(&journal, &left, BOARD);
    if (!is_there(&journal, &left, before, &long_before) &&
        !is_there(&journal, &left, after, &long_after)) {
        fail_msg("cut at byte %u: something else is there", at);
    }
    assert_true(uvk_journal_put(&journal, (enum uvk_record_kind)FIRST, next.bytes, next.size));
    finish(&journal, &left);
    (void)uvk_journal_open(&journal, &left, BOARD);
    assert_int_equal(
        uvk_journal_get(&journal, &left, (enum uvk_record_kind)FIRST, out, sizeof out), 3);
    assert_memory_equal(out, next.bytes, 3);
}

/* ---- tests ------------------------------------------------------------------------------ */

static struct uvk_port port;

static int erased(void **state)
{
    (void)state;
    memset(&port, 0, sizeof port);
    memset(port.memory, 0xFF, MEMORY);
    memset(before, 0, sizeof before);
    memset(after, 0, sizeof after);
    memset(&long_before, 0, sizeof long_before);
    memset(&long_after, 0, sizeof long_after);
    return 0;
}

/* A long record; or two, of which the second comes while the first is being written. */
static void put_long(struct uvk_journal *journal)
{
    static struct long_value first;

    first.size = (uint16_t)(1u + any(LONG_MOST));
    memset(first.bytes, 0x77, sizeof first.bytes);
    long_after.size = (uint16_t)(1u + any(LONG_MOST));
    for (uint16_t i = 0; i < long_after.size; i++) {
        long_after.bytes[i] = (uint8_t)any(256);
    }
    if (any(3) == 0) {
        unsigned steps = any(200);
        struct long_value meant = long_after;
        long_after = first;
        assert_true(uvk_journal_put_long(journal, UVK_RECORD_CHANGES, first.bytes, first.size));
        while (steps-- > 0) {
            uvk_journal_task(journal, &port, 100, true);
        }
        if (uvk_journal_is_idle(journal)) {
            long_before = first;
        }
        long_after = meant;
    }
    assert_true(
        uvk_journal_put_long(journal, UVK_RECORD_CHANGES, long_after.bytes, long_after.size));
}

/* One step of a history: a record, or all are forgotten. */
static void do_something(struct uvk_journal *journal)
{
    unsigned which = any(KINDS);

    if (any(40) == 0) {
        memset(after, 0, sizeof after);
        memset(&long_after, 0, sizeof long_after);
        uvk_journal_forget(journal);
    } else if (any(UVK_BANK_BYTES > 512u ? 30 : 6) == 0) {
        put_long(journal);
    } else {
        after[which].size = (uint8_t)(1u + any(UVK_RECORD_SHORT));
        for (uint8_t i = 0; i < after[which].size; i++) {
            after[which].bytes[i] = (uint8_t)any(256);
        }
        assert_true(uvk_journal_put(journal, (enum uvk_record_kind)(FIRST + which),
                                    after[which].bytes, after[which].size));
    }
    finish(journal, &port);
    memcpy(before, after, sizeof before);
    long_before = long_after;
    assert_true(is_there(journal, &port, before, &long_before));
}

static void no_cut_loses_anything(void **state)
{
    struct uvk_journal journal;
    const unsigned histories = UVK_ERASE_BYTES > 1u ? 2 : 6; /* a sector is many bytes */

    (void)state;
    for (unsigned history = 0; history < histories; history++) {
        (void)erased(NULL);
        seed = 1 + history;
        assert_int_equal(uvk_journal_open(&journal, &port, BOARD), UVK_JOURNAL_EMPTY);
        port.watched = true;
        for (unsigned i = 0; i < 2u * UVK_BANK_BYTES / 20u; i++) {
            do_something(&journal);
        }
        port.watched = false;
        assert_true(port.cuts > UVK_BANK_BYTES);
        assert_int_equal(uvk_journal_open(&journal, &port, BOARD), UVK_JOURNAL_KEPT);
        assert_true(is_there(&journal, &port, before, &long_before));
        printf("%u power cuts\n", port.cuts);
    }
}

/* Whatever stands in the memory, it starts, and keeps the first record. */
static void any_bytes_are_a_start(void **state)
{
    (void)state;
    for (unsigned i = 0; i < 3000; i++) {
        struct uvk_journal journal;
        uint8_t byte = (uint8_t)i;
        uint8_t out[1] = {0};
        seed = i + 1;
        for (unsigned at = 0; at < MEMORY; at++) {
            port.memory[at] = (uint8_t)(i % 3 == 0 ? any(256) : any(8) == 0 ? any(256) : 0xFF);
        }
        (void)uvk_journal_open(&journal, &port, BOARD);
        assert_true(uvk_journal_put(&journal, UVK_RECORD_HALF, &byte, 1));
        finish(&journal, &port);
        assert_int_equal(uvk_journal_open(&journal, &port, BOARD), UVK_JOURNAL_KEPT);
        assert_int_equal(uvk_journal_get(&journal, &port, UVK_RECORD_HALF, out, 1), 1);
        assert_int_equal(out[0], byte);
    }
}

static void other_boards_and_formats_are_known(void **state)
{
    struct uvk_journal journal;
    uint8_t byte = 2;

    (void)state;
    (void)uvk_journal_open(&journal, &port, BOARD);
    assert_true(uvk_journal_put(&journal, UVK_RECORD_HALF, &byte, 1));
    finish(&journal, &port);
    assert_int_equal(uvk_journal_open(&journal, &port, BOARD + 1u), UVK_JOURNAL_OF_OTHER_BOARD);
    assert_int_equal(uvk_journal_get(&journal, &port, UVK_RECORD_HALF, &byte, 1), 0);
    /* nothing was written: its own board still finds it */
    assert_int_equal(uvk_journal_open(&journal, &port, BOARD), UVK_JOURNAL_KEPT);
    assert_int_equal(uvk_journal_get(&journal, &port, UVK_RECORD_HALF, &byte, 1), 1);
}

/* Milliseconds until an idle journal has written what was just put. */
static unsigned time_to_write(struct uvk_journal *journal)
{
    unsigned ms = 0;

    while (!uvk_journal_is_idle(journal)) {
        uvk_journal_task(journal, &port, 1, true);
        ms++;
        assert_true(ms < 60000);
    }
    return ms;
}

static void what_changes_often_waits(void **state)
{
    struct uvk_journal journal;
    uint8_t byte = 1;

    (void)state;
    (void)uvk_journal_open(&journal, &port, BOARD);
    assert_true(uvk_journal_put(&journal, UVK_RECORD_HALF, &byte, 1));
    assert_true(time_to_write(&journal) < 3000);
    for (unsigned i = 0; i < 100; i++) { /* each within a millisecond of the one before */
        byte = (uint8_t)i;
        assert_true(uvk_journal_put(&journal, UVK_RECORD_HALF, &byte, 1));
        uvk_journal_task(&journal, &port, 1, true);
    }
    assert_in_range(time_to_write(&journal), UVK_JOURNAL_REST_MS - 200,
                    UVK_JOURNAL_REST_MS + 200);
    assert_int_equal(uvk_journal_get(&journal, &port, UVK_RECORD_HALF, &byte, 1), 1);
    assert_int_equal(byte, 99);
}

/* A day of ten hours in which a light is changed twice a minute. */
static void a_day_wears_little(void **state)
{
    struct uvk_journal journal;
    unsigned most = 0;

    (void)state;
    (void)uvk_journal_open(&journal, &port, BOARD);
    for (unsigned i = 0; i < 10u * 60u * 2u; i++) {
        uint8_t light[4] = {(uint8_t)i, (uint8_t)(i >> 8), 3, 4};
        assert_true(
            uvk_journal_put(&journal, (enum uvk_record_kind)FIRST, light, sizeof light));
        for (unsigned ms = 0; ms < 30000; ms += 10) {
            uvk_journal_task(&journal, &port, 10, true);
        }
    }
    for (unsigned at = 0; at < MEMORY; at++) {
        most = port.wear[at] > most ? port.wear[at] : most;
    }
    printf("1,200 changes in a day: each byte is erased %u times at the most, %u banks\n", most,
           journal.erased);
    assert_in_range(most, 1, 1200u * 9u / UVK_BANK_BYTES + 1u);
    assert_in_range(journal.erased, 1, 1200u * 9u / UVK_BANK_BYTES + 2u);
}

/* An erasure during which the chip stands still does not come between two keys. */
static void erasing_waits_for_rest(void **state)
{
    struct uvk_journal journal;
    const uint8_t bytes[UVK_RECORD_SHORT] = {0};

    (void)state;
    (void)uvk_journal_open(&journal, &port, BOARD);
    for (unsigned i = 0; i < RECORDS; i++) {
        assert_true(uvk_journal_put(&journal, UVK_RECORD_HALF, bytes, sizeof bytes));
        finish(&journal, &port);
    }
    memset(port.wear, 0, sizeof port.wear);
    for (unsigned i = 0; i < RECORDS; i++) {
        (void)uvk_journal_put(&journal, UVK_RECORD_HALF, bytes, sizeof bytes);
        for (unsigned step = 0; step < 100; step++) {
            uvk_journal_task(&journal, &port, 100, false);
        }
    }
    for (unsigned at = 0; at < MEMORY && UVK_ERASE_STANDS_STILL; at++) {
        assert_int_equal(port.wear[at], 0);
    }
    finish(&journal, &port);
}

/* All changes that a keymap may have, and which half this is: a bank has room for both. */
static void the_most_changes_have_room(void **state)
{
    static uint8_t bytes[3088];
    static uint8_t out[sizeof bytes];
    const uint16_t most = UVK_BANK_BYTES > 512u ? 3072u + 16u : 352u + 16u;
    struct uvk_journal journal;
    uint8_t half = 2;

    (void)state;
    memset(bytes, 0x42, sizeof bytes);
    (void)uvk_journal_open(&journal, &port, BOARD);
    assert_true(uvk_journal_put(&journal, UVK_RECORD_HALF, &half, 1));
    finish(&journal, &port);
    for (unsigned i = 0; i < 5; i++) {
        bytes[0] = (uint8_t)i;
        assert_true(uvk_journal_put_long(&journal, UVK_RECORD_CHANGES, bytes, most));
        finish(&journal, &port);
    }
    assert_int_equal(uvk_journal_open(&journal, &port, BOARD), UVK_JOURNAL_KEPT);
    assert_int_equal(uvk_journal_get(&journal, &port, UVK_RECORD_HALF, &half, 1), 1);
    assert_int_equal(uvk_journal_get(&journal, &port, UVK_RECORD_CHANGES, out, sizeof out),
                     most);
    assert_memory_equal(out, bytes, most);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test_setup(no_cut_loses_anything, erased),
        cmocka_unit_test_setup(any_bytes_are_a_start, erased),
        cmocka_unit_test_setup(the_most_changes_have_room, erased),
        cmocka_unit_test_setup(other_boards_and_formats_are_known, erased),
        cmocka_unit_test_setup(what_changes_often_waits, erased),
        cmocka_unit_test_setup(a_day_wears_little, erased),
        cmocka_unit_test_setup(erasing_waits_for_rest, erased),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
