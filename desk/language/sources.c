/* sources.c - the files of a program: is it text, and what of it is not seen? */
#include "reading.h"

#include <errno.h>
#include <stdio.h>
#include <string.h>

void free_source(void *data)
{
    struct uvk_source *source = data;

    g_free(source->path);
    g_free(source->text);
    g_free(source);
}

char *uvk_source_bytes(const char *path, size_t *size)
{
    FILE *file = fopen(path, "rb");
    char *bytes;
    int error;

    if (file == NULL) {
        return NULL;
    }
    bytes = g_malloc(UVK_SOURCE_MAX + 2);
    errno = 0;
    *size = fread(bytes, 1, UVK_SOURCE_MAX + 1, file);
    error = ferror(file) ? errno : 0;
    (void)fclose(file);
    if (error != 0) {
        g_free(bytes);
        errno = error;
        return NULL;
    }
    bytes[*size] = '\0';
    return bytes;
}

/* Where the bytes stop being text; SIZE if they do not. */
static size_t text_size(const char *bytes, size_t size)
{
    const char *end;

    return g_utf8_validate(bytes, (gssize)size, &end) ? size : (size_t)(end - bytes);
}

/* What is not seen may make a text look other than it is. The first one is told. */
static void tell_unseen(struct reading *reading, const struct uvk_source *source)
{
    const char *unseen = uvk_find_unseen(source->text + uvk_mark_size(source->text));
    struct uvk_place place = {source, 0, 0};
    gunichar character;
    char *fix;

    if (unseen == NULL) {
        return;
    }
    character = g_utf8_get_char(unseen);
    place.at = (uint32_t)(unseen - source->text);
    place.length = (uint32_t)(g_utf8_next_char(unseen) - unseen);
    fix = g_strdup_printf("in a string write \\u{%x}", character);
    uvk_say(reading->messages, UVK_SAYS_BAD_CHARACTER, place, fix,
            "an invisible character, U+%04X", character);
    g_free(fix);
}

/* What a text is that is none of the language; NULL: it may be one. */
static const char *what_else(const char *text)
{
    const char *start = text + uvk_mark_size(text);

    start += strspn(start, " \t\r\n");

    if (*start == ':' && strspn(start + 1, "0123456789ABCDEFabcdef") >= 10) {
        return "a HEX file for a chip: name the keymap that it was built from";
    }
    if (*start == '{' && start[1 + strspn(start + 1, " \t\r\n")] == '"') {
        return "JSON: 'uvrek import' makes a text of it";
    }
    return g_str_has_prefix(start, "<?xml") || g_str_has_prefix(start, "<svg")
               ? "XML, perhaps a picture: name the keymap"
               : NULL;
}

struct uvk_source *add_source(struct reading *reading, const char *path, char *bytes,
                              size_t size, struct uvk_place place)
{
    struct uvk_source *source = g_new0(struct uvk_source, 1);
    size_t valid = text_size(bytes, size);

    source->path = g_strdup(path);
    source->text = bytes;
    source->size = size;
    g_ptr_array_add(reading->program->sources, source);
    if (size > UVK_SOURCE_MAX) {
        uvk_say(reading->messages, UVK_SAYS_TOO_LARGE, place, NULL,
                "%s is larger than %u bytes", path, UVK_SOURCE_MAX);
    } else if (valid < size) {
        uvk_say(reading->messages, UVK_SAYS_NO_TEXT, place, NULL,
                "%s is not UTF-8 text: byte %zu is 0x%02X", path, valid + 1,
                (unsigned)(unsigned char)bytes[valid]);
    } else if (what_else(bytes) != NULL) {
        uvk_say(reading->messages, UVK_SAYS_NO_TEXT, place, NULL, "%s is %s", path,
                what_else(bytes));
    } else {
        tell_unseen(reading, source);
        return source;
    }
    bytes[0] = '\0';
    source->size = 0;
    return NULL;
}

struct uvk_source *source_at(const struct reading *reading, const char *path)
{
    char *wanted = g_canonicalize_filename(path, NULL);
    struct uvk_source *found = NULL;

    for (guint i = 0; i < reading->program->sources->len && found == NULL; i++) {
        struct uvk_source *source = g_ptr_array_index(reading->program->sources, i);
        char *known = g_canonicalize_filename(source->path, NULL);
        found = strcmp(known, wanted) == 0 ? source : NULL;
        g_free(known);
    }
    g_free(wanted);
    return found;
}
