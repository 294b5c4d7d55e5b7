/* libFuzzer: what a client of the editor's server may send. The first byte says what follows:
 * frames as they come, or messages to a server that has a text open. */
#include "uvrek/editor.h"

#include <glib.h>
#include <jansson.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);

/* Each message is JSON, whatever came. */
static void say(const char *message, size_t size, void *data)
{
    json_t *json = json_loadb(message, size, 0, NULL);

    (void)data;
    if (json == NULL) {
        abort();
    }
    json_decref(json);
}

static void take(struct uvk_editor *editor, const char *message)
{
    uvk_editor_take(editor, message, strlen(message));
}

static struct uvk_editor *begin(void)
{
    struct uvk_editor *editor = uvk_editor_new(&(const struct uvk_editor_hooks){.say = say});

    take(editor, "{\"id\":1,\"method\":\"initialize\",\"params\":{}}");
    take(editor,
         "{\"method\":\"textDocument/didOpen\",\"params\":{\"textDocument\":{\"uri\":\"a:b\","
         "\"version\":1,\"text\":\"board b {\\n chip atmega32u4\\n matrix { rows B1; cols F4 "
         "F5; "
         "flow row->col }\\n keys { r0c0 r0c1 }\\n}\\nkeymap k {\\n macro m { type \\\"x\\\" "
         "}\\n "
         "layer l { m a }\\n}\\n\"}}}");
    return editor;
}

/* The frames of DATA, and what is in them. */
static void feed(struct uvk_editor *editor, const uint8_t *data, size_t size)
{
    struct uvk_frames *frames = uvk_frames_new();
    size_t step = size / 3 + 1;

    for (size_t at = 0; at < size; at += step) {
        const char *content;
        size_t length;
        uvk_frames_put(frames, data + at, MIN(step, size - at));
        while (uvk_frames_take(frames, &content, &length) == UVK_FRAMED_WHOLE) {
            uvk_editor_take(editor, content, length);
        }
    }
    uvk_frames_free(frames);
}

/* A message a line. */
static void tell(struct uvk_editor *editor, const uint8_t *data, size_t size)
{
    const char *at = (const char *)data;
    const char *end = at + size;

    while (at < end) {
        const char *line = memchr(at, '\n', (size_t)(end - at));
        line = line != NULL ? line : end;
        uvk_editor_take(editor, at, (size_t)(line - at));
        uvk_editor_rest(editor);
        at = line + 1;
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct uvk_editor *editor = begin();

    if (size > 0 && (data[0] & 1u) != 0) {
        feed(editor, data + 1, size - 1);
    } else if (size > 0) {
        tell(editor, data + 1, size - 1);
    }
    uvk_editor_free(editor);
    return 0;
}
