/* labels.c - see labels.h. */
#include "labels.h"

#include "short.h"

#include <string.h>

#define SIZE_MIN  7.0
#define LINE      1.15 /* from one line of text to the next, in sizes */
#define LINES_MAX 3u
#define ONE_LINE  13 /* rather than in two lines, text is this small */

/* Long words that are two: a line may end between them. */
static const struct {
    const char *first, *second;
} pairs[] = {{"back", "space"},  {"back", "slash"},  {"boot", "loader"},   {"semi", "colon"},
             {"bright", "ness"}, {"calcu", "lator"}, {"inter", "national"}};

static bool is_pair(const char *start, const char *end)
{
    for (size_t i = 0; i < G_N_ELEMENTS(pairs); i++) {
        size_t length = strlen(pairs[i].first);
        if ((size_t)(end - start) >= length &&
            strncmp(end - length, pairs[i].first, length) == 0 &&
            g_str_has_prefix(end, pairs[i].second)) {
            return true;
        }
    }
    return false;
}

/* Words end behind a hyphen, a plus, a colon or a slash, and at a space. */
static GPtrArray *words_of(const char *text)
{
    GPtrArray *words = g_ptr_array_new_with_free_func(g_free);
    const char *start = text;

    for (const char *at = text; *at != '\0'; at++) {
        if (at[1] != '\0' && at > start &&
            (strchr("-+:/ ", *at) != NULL || is_pair(start, at + 1))) {
            g_ptr_array_add(words, g_strndup(start, (gsize)(at + 1 - start)));
            start = at + 1;
        }
    }
    g_ptr_array_add(words, g_strdup(start));
    return words;
}

/* As few lines as WIDTH allows; NULL if a word is too long or there are too many lines. */
static GPtrArray *lines_of(const GPtrArray *words, double size, bool bold, double width,
                           unsigned most)
{
    GPtrArray *lines = g_ptr_array_new_with_free_func(g_free);
    char *line = g_strdup("");

    for (guint i = 0; i < words->len; i++) {
        const char *word = g_ptr_array_index(words, i);
        char *longer = g_strconcat(line, word, NULL);
        if (line[0] != '\0' && canvas_text_width(size, bold, longer) > width) {
            g_ptr_array_add(lines, line);
            line = g_strdup(word);
            g_free(longer);
        } else {
            g_free(line);
            line = longer;
        }
        if (canvas_text_width(size, bold, line) > width) {
            g_free(line);
            g_ptr_array_free(lines, TRUE);
            return NULL;
        }
    }
    g_ptr_array_add(lines, line);
    if (lines->len > most) {
        g_ptr_array_free(lines, TRUE);
        return NULL;
    }
    return lines;
}

static void draw_lines(struct canvas *canvas, double x, double y, double size, enum tone tone,
                       bool bold, const GPtrArray *lines)
{
    double top = y - (lines->len - 1) * size * LINE / 2;

    for (guint i = 0; i < lines->len; i++) {
        canvas_text(canvas, x, top + i * size * LINE + size * 0.36, size, tone, ANCHOR_MIDDLE,
                    bold, g_ptr_array_index(lines, i));
    }
}

static void draw_shortened(struct canvas *canvas, double x, double y, double width,
                           enum tone tone, bool bold, const char *text)
{
    glong length = g_utf8_strlen(text, -1);

    for (; length > 0; length--) {
        char *start = g_utf8_substring(text, 0, length);
        char *shown = g_strconcat(start, "…", NULL);
        bool fits = canvas_text_width(SIZE_MIN, bold, shown) <= width;
        if (fits) {
            canvas_text(canvas, x, y + SIZE_MIN * 0.36, SIZE_MIN, tone, ANCHOR_MIDDLE, bold,
                        shown);
        }
        g_free(start);
        g_free(shown);
        if (fits) {
            return;
        }
    }
}

/* On one line, as long as that is not small. */
static bool draw_on_one_line(struct canvas *canvas, double x, double y, double width,
                             double height, int size, enum tone tone, bool bold,
                             const char *text)
{
    for (; size >= ONE_LINE; size--) {
        if (canvas_text_width(size, bold, text) <= width && size * LINE <= height) {
            canvas_text(canvas, x, y + size * 0.36, size, tone, ANCHOR_MIDDLE, bold, text);
            return true;
        }
    }
    return false;
}

static bool draw_on_lines(struct canvas *canvas, double x, double y, double width,
                          double height, int size, enum tone tone, bool bold, const char *text)
{
    GPtrArray *words = words_of(text);
    GPtrArray *lines = NULL;

    for (; lines == NULL && size >= (int)SIZE_MIN; size--) {
        unsigned most = MIN(LINES_MAX, (unsigned)(height / (size * LINE)));
        lines = most > 0 ? lines_of(words, size, bold, width, most) : NULL;
        if (lines != NULL) {
            draw_lines(canvas, x, y, size, tone, bold, lines);
        }
    }
    g_ptr_array_free(words, TRUE);
    if (lines == NULL) {
        return false;
    }
    g_ptr_array_free(lines, TRUE);
    return true;
}

void label_draw(struct canvas *canvas, double x, double y, double width, double height,
                double size, enum tone tone, bool bold, const char *text)
{
    int largest = (int)size;

    if (text[0] != '\0' &&
        !draw_on_one_line(canvas, x, y, width, height, largest, tone, bold, text) &&
        !draw_on_lines(canvas, x, y, width, height, largest, tone, bold, text)) {
        char *shorter = short_text(text, 1);
        if (!draw_on_lines(canvas, x, y, width, height, largest, tone, bold, shorter)) {
            draw_shortened(canvas, x, y, width, tone, bold, shorter);
        }
        g_free(shorter);
    }
}
