/* arrange.c - letters where a line has room for them, else digits and arrows; what finds no
 * place there, on a second layer. */
#include "arrange.h"

#include <string.h>

#define LETTER_LINE 10u /* keys that a line of letters has at least */
#define WIDE        2.5 /* key units from which a key is for the thumb */

#define SECOND START_SECOND

/* Lines of letters by their number of keys, from LETTER_LINE on: digits and three of letters.
 * Longer ones get what is in POOL behind them. */
typedef const char *const letter_lines[4][6];

/* Few columns: outside stands what little fingers hold; the rest is for the thumbs. */
static letter_lines narrow = {
    {"1 2 3 4 5 6 7 8 9 0", "1 2 3 4 5 6 7 8 9 0 equal", "grave 1 2 3 4 5 6 7 8 9 0 equal"},
    {"q w e r t y u i o p", "esc q w e r t y u i o p", "esc q w e r t y u i o p minus"},
    {"a s d f g h j k l semicolon", "shift a s d f g h j k l semicolon",
     "shift a s d f g h j k l semicolon quote"},
    {"z x c v b n m comma dot slash", "ctrl z x c v b n m comma dot slash",
     "ctrl z x c v b n m comma dot slash alt"},
};
#define WIDE_LINE                                                                              \
    13u /* keys that a line has at least where all keys have their usual place                 \
         */

static letter_lines wide = {
    {"1 2 3 4 5 6 7 8 9 0", "grave 1 2 3 4 5 6 7 8 9 0", "grave 1 2 3 4 5 6 7 8 9 0 minus",
     "grave 1 2 3 4 5 6 7 8 9 0 minus equal", "grave 1 2 3 4 5 6 7 8 9 0 minus equal backspace",
     "grave 1 2 3 4 5 6 7 8 9 0 minus equal backspace delete"},
    {"q w e r t y u i o p", "tab q w e r t y u i o p", "tab q w e r t y u i o p left-bracket",
     "tab q w e r t y u i o p left-bracket right-bracket",
     "tab q w e r t y u i o p left-bracket right-bracket backslash",
     "tab q w e r t y u i o p left-bracket right-bracket backslash page-up"},
    {"a s d f g h j k l semicolon", "esc a s d f g h j k l semicolon",
     "caps-lock a s d f g h j k l semicolon quote",
     "caps-lock a s d f g h j k l semicolon quote enter",
     "caps-lock a s d f g h j k l semicolon quote enter home",
     "caps-lock a s d f g h j k l semicolon quote enter home end"},
    {"z x c v b n m comma dot slash", "shift z x c v b n m comma dot slash",
     "shift z x c v b n m comma dot slash right-shift",
     "shift z x c v b n m comma dot slash right-shift up",
     "shift z x c v b n m comma dot slash right-shift up delete",
     "shift z x c v b n m comma dot slash right-shift up delete page-down"},
};
#define LINES_WITH_LETTERS 3u

/* From the middle outwards, under letters: what thumbs do best lies nearest. */
#define LEFT_THUMB    SECOND " tab backspace gui shift ctrl alt esc delete home"
#define RIGHT_THUMB   "space enter delete right-alt right-shift right-ctrl menu page-up page-down"
/* The same beside a long space bar. */
#define LEFT_OF_BAR   "backspace tab gui ctrl shift alt esc delete home"
#define RIGHT_OF_BAR  "enter " SECOND " right-alt right-ctrl menu delete end"
/* ...and under wide lines. */
#define LEFT_OF_WIDE  "alt gui ctrl " SECOND " esc"
#define RIGHT_OF_WIDE "right-alt right-gui " SECOND " right-ctrl menu left down right end"

/* Keys that find no line; a few keys beside the screen begin with these. */
#define POOL                                                                                   \
    "1 2 3 4 5 6 7 8 9 0 left down up right home end page-up page-down f1 f2 f3 f4 f5 f6 f7 "  \
    "f8 f9 f10 f11 f12 a b c d e f g h i j k l insert menu pause print-screen scroll-lock "    \
    "num-lock pad-0 pad-1 pad-2 pad-3 pad-4 pad-5 pad-6 pad-7 pad-8 pad-9"
/* What the second layer has, as far as the first has not. */
#define SECOND_POOL                                                                            \
    "1 2 3 4 5 6 7 8 9 0 esc tab backspace enter delete shift ctrl alt gui minus equal "       \
    "left-bracket right-bracket backslash quote grave left down up right home end page-up "    \
    "page-down volume-down volume-up mute"

/* Keys of a line that stand side by side, by their place in the line. */
struct run {
    unsigned first, count;
};

#define TOUCHING 0.2 /* key units between neighbours, at the most */

/* The key at INDEX of a line, gaps or not; NULL: there is none. */
static const struct uvk_key_place *key_at(const struct uvk_board *board, unsigned line,
                                          unsigned index)
{
    for (unsigned key = 0, seen = 0; key < board->key_count; key++) {
        if (board->keys[key].line == line && seen++ == index) {
            return &board->keys[key];
        }
    }
    return NULL;
}

static unsigned whole_length(const struct uvk_board *board, unsigned line)
{
    unsigned count = 0;

    for (unsigned i = 0; i < board->key_count; i++) {
        count += board->keys[i].line == line;
    }
    return count;
}

static struct run run_from(const struct uvk_board *board, unsigned line, unsigned first)
{
    struct run run = {first, 1};
    const struct uvk_key_place *key = key_at(board, line, first);
    const struct uvk_key_place *next = key_at(board, line, first + 1);

    while (next != NULL && next->x - (key->x + key->width) <= TOUCHING) {
        run.count++;
        key = next;
        next = key_at(board, line, first + run.count);
    }
    return run;
}

static bool has_bar(const struct uvk_board *board, unsigned line, struct run run)
{
    for (unsigned i = 0; i < run.count; i++) {
        if (key_at(board, line, run.first + i)->width >= WIDE) {
            return true;
        }
    }
    return false;
}

/* The part of a line that is for writing: one that is long enough for letters, or that has the
 * space bar; where there is none, as between two halves, the whole line. */
static struct run writing_part(const struct uvk_board *board, unsigned line)
{
    struct run whole = {0, whole_length(board, line)};

    for (struct run run = {0, 0}; run.first + run.count < whole.count;) {
        run = run_from(board, line, run.first + run.count);
        if (run.count >= LETTER_LINE || has_bar(board, line, run)) {
            return run;
        }
    }
    return whole;
}

static unsigned line_length(const struct uvk_board *board, unsigned line)
{
    return writing_part(board, line).count;
}

/* The key at INDEX of what is for writing in a line. */
static unsigned key_in_line(const struct uvk_board *board, unsigned line, unsigned index)
{
    return (unsigned)(key_at(board, line, writing_part(board, line).first + index) -
                      board->keys);
}

static bool is_used(char *const *cells, unsigned count, const char *word)
{
    for (unsigned i = 0; i < count; i++) {
        if (cells[i] != NULL && strcmp(cells[i], word) == 0) {
            return true;
        }
    }
    return false;
}

/* Give CELLS that are free, in their order, words of the list that neither layer has. */
static void fill(struct start *start, char **cells, const char *list)
{
    char **words = g_strsplit(list, " ", -1);
    unsigned count = start->board->key_count;
    unsigned key = 0;

    for (char **word = words; *word != NULL; word++) {
        while (key < count && cells[key] != NULL) {
            key++;
        }
        if (key < count && !is_used(start->first, count, *word) &&
            !is_used(start->second, count, *word)) {
            cells[key] = g_strdup(*word);
        }
    }
    g_strfreev(words);
}

/* A word that stands elsewhere leaves its place to others. */
static void fill_line(struct start *start, unsigned line, unsigned kind)
{
    unsigned length = line_length(start->board, line);
    letter_lines *lines = start->is_wide ? &wide : &narrow;
    unsigned most = start->is_wide ? G_N_ELEMENTS(wide[0]) : WIDE_LINE - LETTER_LINE;
    unsigned column = MIN(length - LETTER_LINE, most - 1);
    char **words = g_strsplit((*lines)[kind][column], " ", -1);

    for (unsigned i = 0; i < length && words[i] != NULL; i++) {
        unsigned key = key_in_line(start->board, line, i);
        if (!is_used(start->first, start->board->key_count, words[i])) {
            start->first[key] = g_strdup(words[i]);
        }
    }
    g_strfreev(words);
}

/* From the key at INDEX of a line on, by STEP, to the line's end. */
static void fill_outwards(struct start *start, unsigned line, int index, int step,
                          const char *list)
{
    char **words = g_strsplit(list, " ", -1);
    int length = (int)line_length(start->board, line);

    for (char **word = words; *word != NULL && index >= 0 && index < length; word++) {
        if (!is_used(start->first, start->board->key_count, *word)) {
            start->first[key_in_line(start->board, line, (unsigned)index)] = g_strdup(*word);
            index += step;
        }
    }
    g_strfreev(words);
}

/* The line under the letters. */
static void fill_thumbs(struct start *start, unsigned line)
{
    unsigned length = line_length(start->board, line);

    for (unsigned i = 0; i < length; i++) {
        unsigned key = key_in_line(start->board, line, i);
        if (start->board->keys[key].width >= WIDE) {
            start->first[key] = g_strdup("space");
            fill_outwards(start, line, (int)i - 1, -1,
                          start->is_wide ? LEFT_OF_WIDE : LEFT_OF_BAR);
            fill_outwards(start, line, (int)i + 1, 1,
                          start->is_wide ? RIGHT_OF_WIDE : RIGHT_OF_BAR);
            return;
        }
    }
    fill_outwards(start, line, (int)length / 2 - 1, -1, LEFT_THUMB);
    fill_outwards(start, line, (int)length / 2, 1, RIGHT_THUMB);
}

/* Lines long enough for letters, from the first on. */
static unsigned long_lines(const struct uvk_board *board)
{
    unsigned count = 0;

    while (count < board->line_count && line_length(board, count) >= LETTER_LINE) {
        count++;
    }
    return count;
}

/* What stands to the right of the letters, from the line of digits down; and the line above. */
static const char *const beside[] = {"insert home page-up", "delete end page-down", "", "up",
                                     "left down right"};
#define ABOVE "esc f1 f2 f3 f4 f5 f6 f7 f8 f9 f10 f11 f12 print-screen scroll-lock pause"

/* From the key at INDEX of a line on, as far as it is free. */
static void fill_from(struct start *start, unsigned line, unsigned index, const char *list)
{
    char **words = g_strsplit(list, " ", -1);

    for (char **word = words; *word != NULL && **word != '\0'; word++, index++) {
        const struct uvk_key_place *key = key_at(start->board, line, index);
        if (key != NULL && start->first[key - start->board->keys] == NULL &&
            !is_used(start->first, start->board->key_count, *word)) {
            start->first[key - start->board->keys] = g_strdup(*word);
        }
    }
    g_strfreev(words);
}

/* DIGITS: the line of digits. */
static void fill_beside(struct start *start, unsigned digits)
{
    const struct uvk_board *board = start->board;

    for (unsigned i = 0; i < G_N_ELEMENTS(beside) && digits + i < board->line_count; i++) {
        struct run part = writing_part(board, digits + i);
        fill_from(start, digits + i, part.first + part.count, beside[i]);
    }
    if (digits > 0) {
        fill_from(start, digits - 1, 0, ABOVE);
    }
}

/* Digits and letters; the last line is for thumbs, if there are more than three. */
static void fill_letters(struct start *start)
{
    const struct uvk_board *board = start->board;
    unsigned letters = long_lines(board);
    unsigned first;

    if (letters > LINES_WITH_LETTERS && letters == board->line_count) {
        letters--;
    }
    start->writes = letters >= LINES_WITH_LETTERS;
    if (!start->writes) {
        return;
    }
    first = letters - LINES_WITH_LETTERS;
    for (unsigned i = 0; i < letters; i++) {
        start->is_wide |= line_length(board, i) >= WIDE_LINE;
    }
    if (first > 0) {
        fill_beside(start, first - 1);
        fill_line(start, first - 1, 0);
    }
    for (unsigned i = 0; i < LINES_WITH_LETTERS; i++) {
        fill_line(start, first + i, i + 1);
    }
    if (letters < board->line_count) {
        fill_thumbs(start, letters);
    }
}

static void replace(char **cell, char *text)
{
    g_free(*cell);
    *cell = text;
}

/* A board for writing needs space, shift and the second layer, even with no thumb keys: then
 * the outer keys of its last line of letters do both. */
static void make_room(struct start *start)
{
    unsigned count = start->board->key_count;
    unsigned z = 0;

    while (z < count && g_strcmp0(start->first[z], "z") != 0) {
        z++;
    }
    if (start->writes && !is_used(start->first, count, "shift")) {
        replace(&start->first[z], g_strdup("z/shift"));
    }
    if (start->writes && !is_used(start->first, count, "space")) {
        replace(&start->first[count - 1], g_strdup("space/" SECOND));
    } else if (start->writes && !is_used(start->first, count, SECOND)) {
        for (unsigned i = 0; i < count; i++) {
            if (g_strcmp0(start->first[i], "space") == 0) {
                replace(&start->first[i], g_strdup("space/" SECOND));
                break;
            }
        }
    } else if (!start->writes && count > 2) {
        replace(&start->first[count - 1], g_strdup(SECOND));
    }
}

int start_second_key(const struct start *start)
{
    for (unsigned i = 0; i < start->board->key_count; i++) {
        if (strcmp(start->first[i], SECOND) == 0 ||
            g_str_has_suffix(start->first[i], "/" SECOND)) {
            return (int)i;
        }
    }
    return -1;
}

void start_fill(struct start *start)
{
    unsigned count = start->board->key_count;
    int key;

    fill_letters(start);
    fill(start, start->first, POOL);
    for (unsigned i = 0; i < count; i++) {
        if (start->first[i] == NULL) {
            start->first[i] = g_strdup("--"); /* more keys than there are ideas */
        }
    }
    make_room(start);
    key = start_second_key(start);
    if (key < 0) {
        return;
    }
    start->second[key] = g_strdup("."); /* the finger on it cannot press it */
    start->second[key == 0 ? 1 : 0] = g_strdup("board:bootloader");
    fill(start, start->second, SECOND_POOL);
}
