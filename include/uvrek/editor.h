/* editor.h - the language in any text editor: the server side of the Language Server Protocol
 * 3.17. Desk side.
 *
 * 1. The protocol's messages are JSON-RPC 2.0, each in a frame of its base protocol. Frames are
 *    one thing, messages another: an editor that talks some other way needs no frames.
 * 2. Texts are those that the client has open, changed or not; other files that they use are
 *    read from the disk.
 * 3. Nothing that comes from a client is believed: what is no message is answered by the
 *    protocol's error codes, and changes nothing.
 * 4. What is wrong with the texts is told when uvk_editor_rest is called, not at each change:
 * so a client that types fast is not told about every letter.
 */
#ifndef UVREK_EDITOR_H
#define UVREK_EDITOR_H

#include <stdbool.h>
#include <stddef.h>

#ifdef __cplusplus
extern "C" {
#endif

/* ---- frames ------------------------------------------------------------------------------ */

#define UVK_FRAME_HEAD_MAX 4096u     /* bytes of a frame's header fields */
#define UVK_FRAME_BODY_MAX 16777216u /* of its content */

struct uvk_frames; /* bytes that have come, and are no whole frame yet */

struct uvk_frames *uvk_frames_new(void);
void uvk_frames_free(struct uvk_frames *frames);

/* SIZE bytes have come. */
void uvk_frames_put(struct uvk_frames *frames, const void *bytes, size_t size);

enum uvk_framed {
    UVK_FRAMED_PART,  /* no frame is whole */
    UVK_FRAMED_WHOLE, /* *CONTENT has *SIZE bytes and a zero behind them, until the next call */
    UVK_FRAMED_BROKEN /* no frame begins there, or it is too long: nothing can be understood any
                         more */
};
enum uvk_framed uvk_frames_take(struct uvk_frames *frames, const char **content, size_t *size);

/* The header of a frame for SIZE bytes of content. Freed with g_free. */
char *uvk_frame_header(size_t size);

/* ---- the server -------------------------------------------------------------------------- */

struct uvk_editor;

struct uvk_program; /* program.h */
struct uvk_play;    /* play.h */

/* What the server does not do itself. DATA goes with each call. */
struct uvk_editor_hooks {
    /* A message for the client, without its frame. */
    void (*say)(const char *message, size_t size, void *data);
    /* Run PLAY of PROGRAM, which has no errors. How it went in a line, and what happened in
     * those that follow; freed with g_free. NULL: plays are not run. */
    char *(*play)(struct uvk_program *program, const struct uvk_play *play, void *data);
    /* Draw PLAY of PROGRAM into a file, a picture. Its path, *GOOD; else why not. Freed with
     * g_free. NULL: plays are not drawn. */
    char *(*draw)(struct uvk_program *program, const struct uvk_play *play, bool *good,
                  void *data);
    /* Type TEXT on the keyboard of PROGRAM, and write into a file what came of it. The same. */
    char *(*type)(struct uvk_program *program, const char *text, bool *good, void *data);
    /* The URI of a page on which messages are explained, each under its code in small letters:
     * MESSAGES#u021. NULL: there is none. */
    const char *messages;
    void *data;
};

struct uvk_editor *uvk_editor_new(const struct uvk_editor_hooks *hooks);
void uvk_editor_free(struct uvk_editor *editor);

/* A message of the client. */
void uvk_editor_take(struct uvk_editor *editor, const char *message, size_t size);

/* No more messages wait: time to say what is wrong with the texts that have changed. */
void uvk_editor_rest(struct uvk_editor *editor);

/* Files that are not open, but used, may have changed on the disk: look, and rest if so. To be
 * called now and then, each second say. */
void uvk_editor_look(struct uvk_editor *editor);

/* The client has said `exit`, or is GONE: the exit status, 0 if it has said `shutdown` before,
 * else 1. -1: it goes on. */
int uvk_editor_ended(const struct uvk_editor *editor, bool gone);

/* ---- without a server -------------------------------------------------------------------- */

/* The words of the language, for editors that only colour a text: a syntax file of Vim, a
 * grammar as TextMate has them (JSON). Freed with g_free. */
char *uvk_colours_vim(void);
char *uvk_colours_textmate(void);

#ifdef __cplusplus
}
#endif

#endif
