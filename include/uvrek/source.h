/* source.h - text files of the language, places in them, and messages about them.
 *
 * 1. A place is a span of bytes in one source. It stays valid as long as the program that
 *    the source belongs to.
 * 2. A message has a stable code, a place, one sentence, and perhaps a fix.
 * 3. One mistake gives one message. Messages are kept in the order in which they were
 *    found; uvk_messages_sort puts them in the order of the files and lines.
 */
#ifndef UVREK_SOURCE_H
#define UVREK_SOURCE_H

#include <glib.h>
#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

#define UVK_SOURCE_MAX   (4u << 20) /* bytes of one file */
#define UVK_NAME_MAX     64u        /* characters of a name */
#define UVK_DEPTH_MAX    64u        /* blocks and parentheses inside one another */
#define UVK_USE_MAX      256u       /* files that one program may bring in */
#define UVK_ERRORS_MAX   200u       /* mistakes told of one program; the rest is counted */
#define UVK_MESSAGES_MAX 400u       /* the same of all messages */

struct uvk_source {
    char *path; /* as it was named, relative to where the program was started */
    char *text; /* zero-terminated; valid UTF-8 without zero bytes; a mark may come first */
    size_t size;
};

/* Some editors put a mark before a text, the character U+FEFF. It means nothing, is kept where
 * a text is changed, and counts as no column. Its bytes: 0 where there is none. */
size_t uvk_mark_size(const char *text);

/* The bytes of a file, and a zero behind them; of a larger one than UVK_SOURCE_MAX that many
 * and one more. Freed with g_free. NULL: errno says why. */
char *uvk_source_bytes(const char *path, size_t *size);

struct uvk_place {
    const struct uvk_source *source; /* NULL: no place, the message is about no file */
    uint32_t at, length;             /* bytes */
};

/* Line and column, both from 1; the column counts characters. */
struct uvk_position {
    unsigned line, column;
};
struct uvk_position uvk_place_position(struct uvk_place place);

/* The place from the start of A to the end of B. Both are in the same source. */
struct uvk_place uvk_place_span(struct uvk_place a, struct uvk_place b);

enum uvk_severity { UVK_ERROR, UVK_WARNING, UVK_HINT };

/* X(number, name, severity, what the code stands for). A number is never given again: people
 * write them down. */
#define UVK_CODES(X)                                                                           \
    X(1, UNREADABLE, UVK_ERROR, "a file cannot be read")                                       \
    X(2, NO_TEXT, UVK_ERROR, "a file is not a text of the language")                           \
    X(3, TOO_LARGE, UVK_ERROR, "a file is too large")                                          \
    X(4, CIRCLE_OF_FILES, UVK_ERROR, "files use one another in a circle")                      \
    X(5, TOO_DEEP, UVK_ERROR, "blocks or parentheses are nested too deep")                     \
    X(6, BAD_CHARACTER, UVK_ERROR, "a character that means nothing here")                      \
    X(7, NO_CLOSING_QUOTE, UVK_ERROR, "a string or character without its closing quote")       \
    X(8, BAD_ESCAPE, UVK_ERROR, "an escape that is not known")                                 \
    X(9, BAD_NUMBER, UVK_ERROR, "a number that cannot be read")                                \
    X(10, NAME_TOO_LONG, UVK_ERROR, "a name is too long")                                      \
    X(11, NO_PARTNER, UVK_ERROR, "a brace or parenthesis without its partner")                 \
    X(12, EXPECTED, UVK_ERROR, "something else was expected")                                  \
    X(13, NO_STATEMENT, UVK_ERROR, "no such statement")                                        \
    X(14, NOT_YET, UVK_ERROR, "part of the language that is not supported yet")                \
    X(15, TWICE, UVK_ERROR, "written twice")                                                   \
    X(16, MISSING, UVK_ERROR, "something is missing")                                          \
    X(17, OUT_OF_RANGE, UVK_ERROR, "a value is out of range")                                  \
    X(20, NAME_IS_KEY, UVK_ERROR, "a name of your own that is a key's name")                   \
    X(21, NO_NAME, UVK_ERROR, "no key or name")                                                \
    X(22, DOES_NOT_FIT, UVK_ERROR, "a value that does not fit here")                           \
    X(23, CANNOT_TYPE, UVK_ERROR, "a character that the host's layout cannot type")            \
    X(24, WRONG_LINE, UVK_ERROR, "a line of a layer has the wrong number of cells")            \
    X(25, WRONG_LAYER, UVK_ERROR, "a layer has the wrong number of cells")                     \
    X(26, DEFINED_BY_ITSELF, UVK_ERROR, "a name that is defined by itself")                    \
    X(27, NO_ROOM, UVK_ERROR, "more than a keymap can hold")                                   \
    X(30, NO_CHIP, UVK_ERROR, "no such chip")                                                  \
    X(31, NO_PIN, UVK_ERROR, "no such pin")                                                    \
    X(32, PIN_TWICE, UVK_ERROR, "a pin is used twice")                                         \
    X(33, OUTSIDE_MATRIX, UVK_ERROR, "an address outside the matrix")                          \
    X(34, ADDRESS_TWICE, UVK_ERROR, "an address is used twice")                                \
    X(35, GHOSTS, UVK_WARNING, "a matrix without diodes shows ghost keys")                     \
    X(36, PIN_RESERVED, UVK_ERROR, "a pin that the chip keeps for itself")                     \
    X(37, OVERLAP, UVK_ERROR, "keys that lie over one another")                                \
    X(38, SPARE, UVK_HINT, "places of the matrix without a key")                               \
    X(39, NO_HALF, UVK_ERROR, "no such half")                                                  \
    X(40, NOTHING_TAPS, UVK_ERROR, "no key of the board taps this")                            \
    X(41, SEVERAL_TAP, UVK_ERROR, "several keys of the board tap this")                        \
    X(42, NO_LAYER, UVK_ERROR, "no such layer")                                                \
    X(43, NO_HOST, UVK_ERROR, "no such host system or layout")                                 \
    X(44, NO_CHOICE, UVK_ERROR, "no such layout choice")                                       \
    X(50, UNREACHED, UVK_WARNING, "a layer that nothing reaches")                              \
    X(51, UNUSED, UVK_WARNING, "a name that nothing uses")                                     \
    X(52, NO_BOOTLOADER, UVK_WARNING, "no way to the bootloader")                              \
    X(53, OWN_PLACE, UVK_WARNING,                                                              \
      "a key of a layer that the finger on the layer key cannot reach")                        \
    X(54, EASY_HOLD, UVK_WARNING, "a letter that becomes a hold too easily")                   \
    X(55, STUCK_LAYER, UVK_WARNING, "a layer that nothing leaves")                             \
    X(56, HIDDEN_COMBO, UVK_WARNING, "a combo of keys that a layer makes others")              \
    X(57, SHADOWED_COMBO, UVK_WARNING, "a combo that another one always wins over")            \
    X(58, KEYS_MISSING, UVK_WARNING, "keys that nothing types")                                \
    X(59, PASSWORD, UVK_WARNING, "a text that looks like a password")                          \
    X(60, IDLE_SETTING, UVK_WARNING, "a setting that changes nothing")                         \
    X(61, IDLE_PIN, UVK_WARNING, "a pin of the matrix that no key uses")                       \
    X(62, MATRIX_FOR_NOTHING, UVK_HINT, "a matrix that saves no pin")                          \
    X(63, RESISTORS, UVK_HINT, "switches that need resistors")                                 \
    X(64, NUM_LOCK, UVK_HINT, "keypad digits that depend on the host's num lock")              \
    X(65, DARK_LIGHTS, UVK_WARNING, "lights that stay dark")                                   \
    X(66, IDLE_KNOB, UVK_WARNING, "a knob that no layer mentions")                             \
    X(67, LOST_ON_KNOB, UVK_WARNING, "a cell that does nothing on a knob")                     \
    X(68, PLAYS_OF_ONE_NAME, UVK_WARNING, "two plays of one name")                             \
    X(69, TURNED_ROUND, UVK_WARNING, "a tap-hold that is turned round")                        \
    X(70, FREQUENT_PAIR, UVK_WARNING, "a combo of letters that follow one another in text")

enum uvk_code {
#define UVK_CODE(number, name, severity, text) UVK_SAYS_##name = (number),
    UVK_CODES(UVK_CODE)
#undef UVK_CODE
};

/* What mends a message without a doubt; edit.h does it. */
enum uvk_mend {
    UVK_MEND_NONE,
    UVK_MEND_WORDS, /* the marked words become its text */
    UVK_MEND_ADD,   /* its text becomes the last statement of the block that begins there */
    UVK_MEND_REMOVE /* the statement around the marked words goes */
};

struct uvk_message {
    enum uvk_code code; /* shown by its number, as U021 */
    enum uvk_severity severity;
    struct uvk_place place;
    char *text;
    char *fix;              /* NULL if there is none */
    struct uvk_place other; /* the other one, where two are in each other's way; or no place */
    enum uvk_mend mend;
    char *mend_text; /* NULL: it needs none */
};

struct uvk_messages {
    GPtrArray *list;           /* of struct uvk_message * */
    unsigned errors, warnings; /* told and untold */
    unsigned untold;           /* messages that are only counted */
};

/* --- text from outside -------------------------------------------------------------------
 * Characters that a terminal would obey instead of showing them: control characters (but tab
 * and line ends), those that turn the direction of writing, the byte order mark. */
bool uvk_is_unseen(gunichar character);

/* The first such character of TEXT, which is UTF-8; NULL: there is none. */
const char *uvk_find_unseen(const char *text);

/* TEXT, which may be any bytes, with such characters as \u{1b}. Freed with g_free. */
char *uvk_visible_text(const char *text);

/* What CODE stands for, NULL if there is no such code. */
const char *uvk_code_text(unsigned code);
/* Of a CODE that there is. */
enum uvk_severity uvk_code_severity(unsigned code);
const char *uvk_severity_text(enum uvk_severity severity);

void uvk_messages_init(struct uvk_messages *messages);
void uvk_messages_clear(struct uvk_messages *messages);
void uvk_messages_sort(struct uvk_messages *messages);

/* Add a message; its severity follows from CODE. FIX may be NULL; both are copied. A fix "did
 * you mean 'x'?" mends the marked words.
 * A second message with the same code at the same place is dropped; then, and when there are
 * too many, NULL comes back. */
struct uvk_message *uvk_say(struct uvk_messages *messages, enum uvk_code code,
                            struct uvk_place place, const char *fix, const char *format, ...)
    G_GNUC_PRINTF(5, 6);

/* OTHER is what MESSAGE (NULL: nothing is done) is in the way of, or is hidden by. */
void uvk_say_other(struct uvk_message *message, struct uvk_place other);

/* MESSAGE (NULL: nothing is done) is mended so. TEXT is copied. */
void uvk_say_mend(struct uvk_message *message, enum uvk_mend mend, const char *text);

/* The message as a person reads it: place, text, the line, the marked words, the fix, and where
 * the other one is.
 * COLOUR adds terminal colours. The caller frees it with g_free. */
char *uvk_message_render(const struct uvk_message *message, bool colour);

#ifdef __cplusplus
}
#endif

#endif
