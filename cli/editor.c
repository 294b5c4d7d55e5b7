/* editor.c - `uvrek editor`: the language for a text editor, over standard input and output.
 */
#include "editor_hooks.h"

#include <errno.h>
#include <glib-unix.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

#define BYTES_AT_ONCE 65536u
#define LOOK_MS       1000u

struct serving {
    struct uvk_editor *editor;
    struct uvk_frames *frames;
    GMainLoop *loop;
    bool gone;     /* nobody hears, or what is heard cannot be understood */
    guint resting; /* what is done when nothing has come for a moment; 0: nothing is */
};

/* ---- saying ------------------------------------------------------------------------------ */

static bool write_all(const char *bytes, size_t size)
{
    while (size > 0) {
        gssize count = write(STDOUT_FILENO, bytes, size);
        if (count < 0 && errno != EINTR) {
            return false;
        }
        if (count > 0) {
            bytes += count;
            size -= (size_t)count;
        }
    }
    return true;
}

static void say(const char *message, size_t size, void *data)
{
    struct serving *serving = data;
    char *header = uvk_frame_header(size);

    if (!serving->gone && (!write_all(header, strlen(header)) || !write_all(message, size))) {
        serving->gone = true;
        g_main_loop_quit(serving->loop);
    }
    g_free(header);
}

/* ---- hearing ----------------------------------------------------------------------------- */

static gboolean rest(gpointer data)
{
    struct serving *serving = data;

    serving->resting = 0;
    uvk_editor_rest(serving->editor);
    return G_SOURCE_REMOVE;
}

static gboolean look(gpointer data)
{
    uvk_editor_look(((struct serving *)data)->editor);
    return G_SOURCE_CONTINUE;
}

static void stop(struct serving *serving, bool gone)
{
    serving->gone = serving->gone || gone;
    g_main_loop_quit(serving->loop);
}

static void take_frames(struct serving *serving)
{
    enum uvk_framed framed = UVK_FRAMED_WHOLE;

    while (framed == UVK_FRAMED_WHOLE && uvk_editor_ended(serving->editor, false) < 0) {
        const char *content;
        size_t size;
        framed = uvk_frames_take(serving->frames, &content, &size);
        if (framed == UVK_FRAMED_WHOLE) {
            uvk_editor_take(serving->editor, content, size);
        }
    }
    if (framed == UVK_FRAMED_BROKEN) {
        complain("what comes is no frame of the protocol");
        stop(serving, true);
    } else if (uvk_editor_ended(serving->editor, false) >= 0) {
        stop(serving, false);
    }
}

/* Idle sources wait until no input does: then it is time to say what is wrong. */
static gboolean hear(gint file, GIOCondition condition, gpointer data)
{
    struct serving *serving = data;
    static char bytes[BYTES_AT_ONCE];
    gssize count = read(file, bytes, sizeof bytes);

    (void)condition;
    if (count < 0 && errno == EINTR) {
        return G_SOURCE_CONTINUE;
    }
    if (count <= 0) {
        stop(serving, true);
        return G_SOURCE_REMOVE;
    }
    uvk_frames_put(serving->frames, bytes, (size_t)count);
    take_frames(serving);
    if (serving->resting == 0) {
        serving->resting = g_idle_add(rest, serving);
    }
    return G_SOURCE_CONTINUE;
}

/* ---- the server -------------------------------------------------------------------------- */

static int serve(void)
{
    struct serving serving = {.loop = g_main_loop_new(NULL, FALSE), .frames = uvk_frames_new()};
    char *messages = editor_messages();
    const struct uvk_editor_hooks hooks = {say,         editor_play, editor_draw,
                                           editor_type, messages,    &serving};
    int status;

    serving.editor = uvk_editor_new(&hooks);
    (void)g_unix_fd_add(STDIN_FILENO, G_IO_IN | G_IO_HUP | G_IO_ERR, hear, &serving);
    (void)g_timeout_add(LOOK_MS, look, &serving);
    g_main_loop_run(serving.loop);
    if (serving.resting != 0) {
        (void)g_source_remove(serving.resting);
    }
    status = uvk_editor_ended(serving.editor, serving.gone) > 0 ? STATUS_NOT_DONE : STATUS_WELL;
    uvk_editor_free(serving.editor);
    uvk_frames_free(serving.frames);
    g_main_loop_unref(serving.loop);
    g_free(messages);
    return status;
}

/* ---- the command ------------------------------------------------------------------------- */

static gboolean over_streams;
static gchar *colours;

static const GOptionEntry options[] = {
    {"stdio", 0, 0, G_OPTION_ARG_NONE, &over_streams,
     "Over standard input and output, as it always is; editors like to say so", NULL},
    {"colours", 0, 0, G_OPTION_ARG_STRING, &colours,
     "Print the words to colour for an editor without a server: vim or textmate", "FORM"},
    G_OPTION_ENTRY_NULL};

static const struct {
    const char *name;
    char *(*text)(void);
} colourings[] = {{"vim", uvk_colours_vim}, {"textmate", uvk_colours_textmate}};

static int print_colours(const char *name)
{
    for (size_t i = 0; i < G_N_ELEMENTS(colourings); i++) {
        if (strcmp(colourings[i].name, name) == 0) {
            char *text = colourings[i].text();
            fputs(text, stdout);
            g_free(text);
            return STATUS_WELL;
        }
    }
    complain("--colours is vim or textmate, not '%s'", name);
    return STATUS_NOT_DONE;
}

static int run(int count, char **words)
{
    if (count > 0) {
        complain("editor takes no '%s': it is told over its input which texts there are",
                 words[0]);
        return STATUS_NOT_DONE;
    }
    return colours != NULL ? print_colours(colours) : serve();
}

const struct command command_editor = {
    "editor",
    "",
    "Help a text editor with the language: mistakes while you type, completion, explanations.",
    "nvim boards/subtitle-desk.uvk    # once it knows the server: docs/editors.md",
    options,
    0,
    run};
