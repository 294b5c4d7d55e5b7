/* avr109.c - the serial bootloader protocol of Atmel's application note AVR109. */
#include "roads.h"

#include <string.h>

#define ANSWER_MS 2000u /* for an answer; a page takes 10 ms, a chip erase 1 s */
#define DONE      0x0D  /* the answer to most commands */

struct talk {
    struct uvk_line *line;
    const struct uvk_chip *chip;
    const struct uvk_flash_options *options;
    size_t block; /* bytes that it takes at once */
};

static bool fail(GError **error, const char *text)
{
    g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, text);
    return false;
}

static bool say(struct talk *talk, const void *bytes, size_t size, GError **error)
{
    return talk->line->write(talk->line->self, bytes, size, error);
}

static bool hear(struct talk *talk, uint8_t *bytes, size_t size, GError **error)
{
    return talk->line->read(talk->line->self, bytes, size, ANSWER_MS, error);
}

/* A command of one byte and its answer of SIZE bytes. */
static bool ask(struct talk *talk, char command, uint8_t *answer, size_t size, GError **error)
{
    return say(talk, &command, 1, error) && hear(talk, answer, size, error);
}

/* The answer must be a carriage return; anything else is a refusal. */
static bool confirmed(struct talk *talk, const char *what, GError **error)
{
    uint8_t answer;

    if (!hear(talk, &answer, 1, error)) {
        return false;
    }
    if (answer != DONE) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "the bootloader refused %s (answer 0x%02X)", what, answer);
        return false;
    }
    return true;
}

static bool command(struct talk *talk, char letter, const char *what, GError **error)
{
    return say(talk, &letter, 1, error) && confirmed(talk, what, error);
}

/* ---- who is there ----------------------------------------------------------------- */

static bool check_signature(struct talk *talk, GError **error)
{
    const uint8_t *wanted = talk->chip->signature;
    uint8_t got[3];

    if (!ask(talk, 's', got, sizeof got, error)) {
        return false;
    }
    /* low byte first */
    if (got[2] == wanted[0] && got[1] == wanted[1] && got[0] == wanted[2]) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "another chip is there: it says %02X %02X %02X, the %s says %02X %02X %02X; "
                "nothing was written",
                got[2], got[1], got[0], talk->chip->title, wanted[0], wanted[1], wanted[2]);
    return false;
}

/* The bootloader's name, and how many bytes it takes at once. */
static bool introduce(struct talk *talk, GError **error)
{
    uint8_t name[8] = {0};
    uint8_t buffer[3];

    if (!ask(talk, 'S', name, 7, error)) {
        g_prefix_error(error, "no bootloader answers: ");
        return false;
    }
    for (size_t i = 0; i < 7; i++) {
        if (name[i] < 0x20 || name[i] > 0x7E) {
            return fail(error, "what answers there is no AVR109 bootloader");
        }
    }
    if (!ask(talk, 'b', buffer, 1, error)) {
        return false;
    }
    if (buffer[0] != 'Y') {
        return fail(error, "this bootloader takes no blocks");
    }
    if (!hear(talk, buffer, 2, error)) {
        return false;
    }
    talk->block = (size_t)buffer[0] << 8 | buffer[1];
    if (talk->block < 16 || talk->block > 4096 || talk->block % 2 != 0) {
        return fail(error, "the bootloader tells a block size that cannot be");
    }
    return true;
}

/* ---- writing and reading ---------------------------------------------------------- */

/* Addresses count words. */
static bool set_address(struct talk *talk, size_t address, GError **error)
{
    uint8_t bytes[3] = {'A', (uint8_t)(address >> 9), (uint8_t)(address >> 1)};

    return say(talk, bytes, sizeof bytes, error) && confirmed(talk, "an address", error);
}

static bool write_block(struct talk *talk, const uint8_t *code, size_t count, GError **error)
{
    uint8_t header[4] = {'B', (uint8_t)(count >> 8), (uint8_t)count, 'F'};

    return say(talk, header, sizeof header, error) && say(talk, code, count, error) &&
           confirmed(talk, "to write", error);
}

static bool write_all(struct talk *talk, const uint8_t *code, size_t size, GError **error)
{
    if (!set_address(talk, 0, error)) {
        return false;
    }
    for (size_t at = 0; at < size; at += talk->block) {
        road_tell(talk->options, UVK_FLASH_WRITING, NULL, at, size);
        if (!write_block(talk, code + at, MIN(talk->block, size - at), error)) {
            return false;
        }
    }
    road_tell(talk->options, UVK_FLASH_WRITING, NULL, size, size);
    return true;
}

static bool read_block(struct talk *talk, uint8_t *code, size_t count, GError **error)
{
    uint8_t header[4] = {'g', (uint8_t)(count >> 8), (uint8_t)count, 'F'};

    return say(talk, header, sizeof header, error) && hear(talk, code, count, error);
}

static bool compare_block(struct talk *talk, const uint8_t *code, size_t at, size_t count,
                          GError **error)
{
    uint8_t *got = g_malloc(count);
    bool good = read_block(talk, got, count, error);

    for (size_t i = 0; good && i < count; i++) {
        if (got[i] != code[at + i]) {
            g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                        "the chip does not hold what was written: 0x%02X at address 0x%04zX "
                        "should be 0x%02X; try again",
                        got[i], at + i, code[at + i]);
            good = false;
        }
    }
    g_free(got);
    return good;
}

static bool verify_all(struct talk *talk, const uint8_t *code, size_t size, GError **error)
{
    if (!set_address(talk, 0, error)) {
        return false;
    }
    for (size_t at = 0; at < size; at += talk->block) {
        road_tell(talk->options, UVK_FLASH_VERIFYING, NULL, at, size);
        if (!compare_block(talk, code, at, MIN(talk->block, size - at), error)) {
            return false;
        }
    }
    road_tell(talk->options, UVK_FLASH_VERIFYING, NULL, size, size);
    return true;
}

/* Erase, write, verify. Once that has begun, an error says so: the keyboard can do nothing but
 * be flashed again. */
static bool replace_all(struct talk *talk, const uint8_t *words, size_t size, GError **error)
{
    return (command(talk, 'e', "to erase", error) && write_all(talk, words, size, error) &&
            verify_all(talk, words, size, error)) ||
           road_emptied(error);
}

/* What is written and verified is there, whatever the bootloader says at the end. NULL, or a
 * remark. */
static const char *leave(struct talk *talk)
{
    GError *error = NULL;
    bool good = command(talk, 'L', "to leave programming", &error) &&
                command(talk, 'E', "to start the firmware", &error);

    g_clear_error(&error);
    return good ? NULL : "it did not answer at the end: if it does not start, plug it in again";
}

static bool read_all(void *self, uint8_t *code, size_t room, bool *shown, GError **error)
{
    struct talk *talk = self;
    bool good = set_address(talk, 0, error);

    for (size_t at = 0; good && at < room; at += talk->block) {
        road_tell(talk->options, UVK_FLASH_READING, NULL, at, room);
        good = read_block(talk, code + at, MIN(talk->block, room - at), error);
    }
    if (good) {
        road_tell(talk->options, UVK_FLASH_READING, NULL, room, room);
    }
    *shown = good;
    return good;
}

bool uvk_avr109_flash(struct uvk_line *line, const struct uvk_chip *chip, const uint8_t *code,
                      size_t size, const struct uvk_flash_options *options, GError **error)
{
    struct talk talk = {line, chip, options, 0};
    size_t even = (size + 1) & ~(size_t)1; /* flash is made of words */
    uint8_t *words;
    bool good;

    if (!road_fits(chip, code, even, error)) {
        return false;
    }
    words = g_malloc(even + 1);
    if (code != NULL) {
        words[even - 1] = 0xFF;
        memcpy(words, code, size);
    }
    good = (introduce(&talk, error) && check_signature(&talk, error) &&
            command(&talk, 'P', "to be programmed", error) &&
            road_ask_before(options, chip, read_all, &talk, error)) ||
           road_untouched(error);
    good = good && (code == NULL || replace_all(&talk, words, even, error));
    g_free(words);
    if (good) {
        road_tell(options, UVK_FLASH_DONE, leave(&talk), size, size);
    }
    return good;
}
