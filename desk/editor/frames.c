/* frames.c - messages in a stream of bytes: the base protocol of LSP 3.17. */
#include "uvrek/editor.h"

#include <glib.h>
#include <string.h>

#define LENGTH_FIELD "content-length:"
#define HEAD_END     "\r\n\r\n"

struct uvk_frames {
    GString *bytes;
    size_t taken; /* of BYTES: the frame that was given last */
};

struct uvk_frames *uvk_frames_new(void)
{
    struct uvk_frames *frames = g_new0(struct uvk_frames, 1);

    frames->bytes = g_string_new(NULL);
    return frames;
}

void uvk_frames_free(struct uvk_frames *frames)
{
    if (frames != NULL) {
        g_string_free(frames->bytes, TRUE);
        g_free(frames);
    }
}

void uvk_frames_put(struct uvk_frames *frames, const void *bytes, size_t size)
{
    g_string_append_len(frames->bytes, bytes, (gssize)size);
}

/* The number behind the field's name. False: it is none, or too large. */
static bool read_length(const char *text, const char *end, size_t *length)
{
    *length = 0;
    while (text < end && *text == ' ') {
        text++;
    }
    if (text == end) {
        return false;
    }
    for (; text < end && g_ascii_isdigit(*text); text++) {
        *length = *length * 10 + (size_t)(*text - '0');
        if (*length > UVK_FRAME_BODY_MAX) {
            return false;
        }
    }
    return text == end;
}

/* The fields of the header up to END; the length of the content is one that has to be there. */
static bool read_head(const char *at, const char *end, size_t *length)
{
    bool found = false;

    while (at < end) {
        const char *line = g_strstr_len(at, end - at, "\r\n");
        line = line != NULL ? line : end;
        if (g_ascii_strncasecmp(at, LENGTH_FIELD, strlen(LENGTH_FIELD)) == 0) {
            if (found || !read_length(at + strlen(LENGTH_FIELD), line, length)) {
                return false;
            }
            found = true;
        } else if (memchr(at, ':', (size_t)(line - at)) == NULL) {
            return false;
        }
        at = line < end ? line + 2 : end;
    }
    return found;
}

enum uvk_framed uvk_frames_take(struct uvk_frames *frames, const char **content, size_t *size)
{
    GString *bytes = frames->bytes;
    const char *end;
    size_t head;

    g_string_erase(bytes, 0, (gssize)frames->taken);
    frames->taken = 0;
    end = g_strstr_len(bytes->str, (gssize)MIN(bytes->len, UVK_FRAME_HEAD_MAX), HEAD_END);
    if (end == NULL) {
        return bytes->len >= UVK_FRAME_HEAD_MAX ? UVK_FRAMED_BROKEN : UVK_FRAMED_PART;
    }
    if (!read_head(bytes->str, end, size)) {
        return UVK_FRAMED_BROKEN;
    }
    head = (size_t)(end - bytes->str) + strlen(HEAD_END);
    if (bytes->len - head < *size) {
        return UVK_FRAMED_PART;
    }
    frames->taken = head + *size;
    *content = bytes->str + head;
    return UVK_FRAMED_WHOLE;
}

char *uvk_frame_header(size_t size)
{
    return g_strdup_printf("Content-Length: %zu\r\n\r\n", size);
}
