/* near.c - what a misspelt word was probably meant to be. */
#include "uvrek/explain.h"

#include <string.h>

/* Insertions, deletions, replacements and swaps of neighbours that make A into B. */
static size_t distance(const char *a, const char *b)
{
    size_t rows[3][UVK_NAME_MAX + 1];
    size_t *before = rows[0];
    size_t *last = rows[1];
    size_t *row = rows[2];
    size_t wide = strlen(b);

    for (size_t j = 0; j <= wide; j++) {
        last[j] = j;
    }
    for (size_t i = 1; a[i - 1] != '\0'; i++) {
        size_t *spare = before;
        row[0] = i;
        for (size_t j = 1; j <= wide; j++) {
            row[j] = MIN(MIN(last[j], row[j - 1]) + 1, last[j - 1] + (a[i - 1] != b[j - 1]));
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1]) {
                row[j] = MIN(row[j], before[j - 2] + 1);
            }
        }
        before = last;
        last = row;
        row = spare;
    }
    return last[wide];
}

/* The candidate that WORD is but for its case. */
static const char *same_but_for_case(const char *word, size_t count,
                                     const char *(*name_of)(size_t index, const void *data),
                                     const void *data)
{
    for (size_t i = 0; i < count; i++) {
        if (g_ascii_strcasecmp(name_of(i, data), word) == 0) {
            return name_of(i, data);
        }
    }
    return NULL;
}

/* The first candidate among the names that WORD is a usual word for. */
static const char *by_synonym(const char *word, size_t count,
                              const char *(*name_of)(size_t index, const void *data),
                              const void *data)
{
    const char *names = uvk_synonyms_of(word);
    char **list = g_strsplit(names != NULL ? names : "", " ", -1);
    const char *found = NULL;

    for (char **name = list; *name != NULL && found == NULL; name++) {
        for (size_t i = 0; i < count && found == NULL; i++) {
            found = strcmp(name_of(i, data), *name) == 0 ? name_of(i, data) : NULL;
        }
    }
    g_strfreev(list);
    return found;
}

static const char *by_letters(const char *word, size_t count,
                              const char *(*name_of)(size_t index, const void *data),
                              const void *data)
{
    size_t length = strlen(word);
    size_t limit = MAX(1, length / 3); /* wrong letters that are still near */
    size_t nearest = limit + 1;
    const char *best = NULL;

    if (length < 2 || length > UVK_NAME_MAX) {
        return NULL;
    }
    for (size_t i = 0; i < count; i++) {
        const char *name = name_of(i, data);
        size_t size = strlen(name);
        size_t apart = size > length ? size - length : length - size;
        size_t far = size <= UVK_NAME_MAX && apart < nearest ? distance(word, name) : nearest;
        if (far < nearest) {
            best = name;
            nearest = far;
        }
    }
    return best;
}

const char *uvk_nearest(const char *word, size_t count,
                        const char *(*name_of)(size_t index, const void *data),
                        const void *data)
{
    const char *near = same_but_for_case(word, count, name_of, data);

    near = near != NULL ? near : by_synonym(word, count, name_of, data);
    return near != NULL ? near : by_letters(word, count, name_of, data);
}
