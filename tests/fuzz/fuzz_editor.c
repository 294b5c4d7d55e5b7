/* libFuzzer: what a client of the editor's server may send. The first byte says what follows:
 * frames as they come, or messages to a server that has a text open: a board alone, which takes
 * little time, or with a keymap. */
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

#define OPEN                                                                                   \
    "{\"method\":\"textDocument/didOpen\",\"params\":{\"textDocument\":{\"uri\":\"a:b\","      \
    "\"version\":1,\"text\":\"board b {\\n chip atmega32u4\\n matrix { rows B1; cols F4 F5; "  \
    "flow row->col }\\n keys { r0c0 r0c1 }\\n}\\n"
#define KEYMAP                                                                                 \
    "keymap k {\\n macro m { type \\\"x\\\" }\\n layer l { m a }\\n let n = b\\n}\\n"          \
    "play \\\"p\\\" { tap a }\\n"

static char *run_play(struct uvk_program *program, const struct uvk_play *play, void *data)
{
    (void)program;
    (void)play;
    (void)data;
    return g_strdup("passed\nand more");
}

static char *draw_play(struct uvk_program *program, const struct uvk_play *play, bool *good,
                       void *data)
{
    *good = data == NULL;
    return run_play(program, play, data);
}

static char *type_text(struct uvk_program *program, const char *text, bool *good, void *data)
{
    (void)program;
    (void)data;
    *good = text[0] == 'a';
    return g_strdup("/a b");
}

static struct uvk_editor *begin(bool with_keymap)
{
    struct uvk_editor *editor =
        uvk_editor_new(&(const struct uvk_editor_hooks){.say = say,
                                                        .play = run_play,
                                                        .draw = draw_play,
                                                        .type = type_text,
                                                        .messages = "file:///m"});

    take(editor, "{\"id\":1,\"method\":\"initialize\",\"params\":{}}");
    take(editor, with_keymap ? OPEN KEYMAP "\"}}}" : OPEN "\"}}}");
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
    struct uvk_editor *editor = begin(size > 0 && (data[0] & 2u) != 0);

    if (size > 0 && (data[0] & 1u) != 0) {
        feed(editor, data + 1, size - 1);
    } else if (size > 0) {
        tell(editor, data + 1, size - 1);
    }
    uvk_editor_free(editor);
    return 0;
}
