/* avr109.c - the serial bootloader protocol of Atmel's application note AVR109. */
#include "uvrek/flash.h"

#include <string.h>

#define ANSWER_MS 2000u /* for an answer; a page takes 10 ms, a chip erase 1 s */
#define DONE      0x0D  /* the answer to most commands */

struct session {
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

static bool say(struct session *session, const void *bytes, size_t size, GError **error)
{
    return session->line->write(session->line->self, bytes, size, error);
}

static bool hear(struct session *session, uint8_t *bytes, size_t size, GError **error)
{
    return session->line->read(session->line->self, bytes, size, ANSWER_MS, error);
}

/* A command of one byte and its answer of SIZE bytes. */
static bool ask(struct session *session, char command, uint8_t *answer, size_t size,
                GError **error)
{
    return say(session, &command, 1, error) && hear(session, answer, size, error);
}

/* The answer must be a carriage return; anything else is a refusal. */
static bool confirmed(struct session *session, const char *what, GError **error)
{
    uint8_t answer;

    if (!hear(session, &answer, 1, error)) {
        return false;
    }
    if (answer != DONE) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "the bootloader refused %s (answer 0x%02X)", what, answer);
        return false;
    }
    return true;
}

static bool command(struct session *session, char letter, const char *what, GError **error)
{
    return say(session, &letter, 1, error) && confirmed(session, what, error);
}

#define EMPTY_NOW                                                                              \
    "; the keyboard holds no firmware now; its bootloader is still there, so that it can be "  \
    "flashed again"

/* ---- who is there ----------------------------------------------------------------- */

static bool check_signature(struct session *session, GError **error)
{
    const uint8_t *wanted = session->chip->signature;
    uint8_t got[3];

    if (!ask(session, 's', got, sizeof got, error)) {
        return false;
    }
    /* low byte first */
    if (got[2] == wanted[0] && got[1] == wanted[1] && got[0] == wanted[2]) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "another chip is there: it says %02X %02X %02X, the %s says %02X %02X %02X; "
                "nothing was written",
                got[2], got[1], got[0], session->chip->title, wanted[0], wanted[1], wanted[2]);
    return false;
}

/* The bootloader's name, and how many bytes it takes at once. */
static bool introduce(struct session *session, GError **error)
{
    uint8_t name[8] = {0};
    uint8_t buffer[3];

    if (!ask(session, 'S', name, 7, error)) {
        g_prefix_error(error, "no bootloader answers: ");
        return false;
    }
    for (size_t i = 0; i < 7; i++) {
        if (name[i] < 0x20 || name[i] > 0x7E) {
            return fail(error, "what answers there is no AVR109 bootloader");
        }
    }
    if (!ask(session, 'b', buffer, 1, error)) {
        return false;
    }
    if (buffer[0] != 'Y') {
        return fail(error, "this bootloader takes no blocks");
    }
    if (!hear(session, buffer, 2, error)) {
        return false;
    }
    session->block = (size_t)buffer[0] << 8 | buffer[1];
    if (session->block < 16 || session->block > 4096 || session->block % 2 != 0) {
        return fail(error, "the bootloader tells a block size that cannot be");
    }
    return true;
}

/* ---- writing and reading ---------------------------------------------------------- */

/* Addresses count words. */
static bool set_address(struct session *session, size_t address, GError **error)
{
    uint8_t bytes[3] = {'A', (uint8_t)(address >> 9), (uint8_t)(address >> 1)};

    return say(session, bytes, sizeof bytes, error) && confirmed(session, "an address", error);
}

static void show(const struct session *session, enum uvk_flash_stage stage, const char *text,
                 size_t done, size_t total)
{
    if (session->options->progress != NULL) {
        session->options->progress(session->options->data, stage, text, done, total);
    }
}

static bool write_block(struct session *session, const uint8_t *code, size_t count,
                        GError **error)
{
    uint8_t header[4] = {'B', (uint8_t)(count >> 8), (uint8_t)count, 'F'};

    return say(session, header, sizeof header, error) && say(session, code, count, error) &&
           confirmed(session, "to write", error);
}

static bool write_all(struct session *session, const uint8_t *code, size_t size, GError **error)
{
    if (!set_address(session, 0, error)) {
        return false;
    }
    for (size_t at = 0; at < size; at += session->block) {
        show(session, UVK_FLASH_WRITING, NULL, at, size);
        if (!write_block(session, code + at, MIN(session->block, size - at), error)) {
            return false;
        }
    }
    show(session, UVK_FLASH_WRITING, NULL, size, size);
    return true;
}

static bool read_block(struct session *session, uint8_t *code, size_t count, GError **error)
{
    uint8_t header[4] = {'g', (uint8_t)(count >> 8), (uint8_t)count, 'F'};

    return say(session, header, sizeof header, error) && hear(session, code, count, error);
}

static bool compare_block(struct session *session, const uint8_t *code, size_t at, size_t count,
                          GError **error)
{
    uint8_t *got = g_malloc(count);
    bool good = read_block(session, got, count, error);

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

static bool verify_all(struct session *session, const uint8_t *code, size_t size,
                       GError **error)
{
    if (!set_address(session, 0, error)) {
        return false;
    }
    for (size_t at = 0; at < size; at += session->block) {
        show(session, UVK_FLASH_VERIFYING, NULL, at, size);
        if (!compare_block(session, code, at, MIN(session->block, size - at), error)) {
            return false;
        }
    }
    show(session, UVK_FLASH_VERIFYING, NULL, size, size);
    return true;
}

/* Erase, write, verify. Once it is erased, an error says so: the keyboard can do nothing but
 * be flashed again. */
static bool replace_all(struct session *session, const uint8_t *words, size_t size,
                        GError **error)
{
    if (!command(session, 'e', "to erase", error)) {
        return false;
    }
    if (write_all(session, words, size, error) && verify_all(session, words, size, error)) {
        return true;
    }
    if (error != NULL && *error != NULL) {
        char *text = g_strconcat((*error)->message, EMPTY_NOW, NULL);
        g_free((*error)->message);
        (*error)->message = text;
    }
    return false;
}

/* What is written and verified is there, whatever the bootloader says at the end. NULL, or a
 * remark. */
static const char *leave(struct session *session)
{
    GError *error = NULL;
    bool good = command(session, 'L', "to leave programming", &error) &&
                command(session, 'E', "to start the firmware", &error);

    g_clear_error(&error);
    return good ? NULL : "it did not answer at the end: if it does not start, plug it in again";
}

bool uvk_avr109_flash(struct uvk_line *line, const struct uvk_chip *chip, const uint8_t *code,
                      size_t size, const struct uvk_flash_options *options, GError **error)
{
    struct session session = {line, chip, options, 0};
    size_t room = chip->flash - chip->bootloader;
    size_t even = (size + 1) & ~(size_t)1; /* flash is made of words */
    uint8_t *words;
    bool good;

    if (size == 0 || even > room) {
        g_set_error(
            error, UVK_PROBLEM, UVK_NOT_DONE,
            "%zu bytes do not fit before the bootloader, there is room for %zu; nothing "
            "was written",
            size, room);
        return false;
    }
    words = g_malloc(even);
    words[even - 1] = 0xFF;
    memcpy(words, code, size);
    good = introduce(&session, error) && check_signature(&session, error) &&
           command(&session, 'P', "to be programmed", error) &&
           replace_all(&session, words, even, error);
    g_free(words);
    if (good) {
        show(&session, UVK_FLASH_DONE, leave(&session), size, size);
    }
    return good;
}
