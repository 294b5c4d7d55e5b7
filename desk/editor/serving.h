/* serving.h - the insides of the server: texts that are open in documents.c, what a request is
 * about in request.c, which request is which in server.c, and a file for each thing that can be
 * asked for. */
#ifndef UVREK_EDITOR_SERVING_H
#define UVREK_EDITOR_SERVING_H

#include "positions.h"

#include "uvrek/editor.h"
#include "uvrek/text.h"

/* A text that the client has open. */
struct document {
    char *uri, *path;
    GString *text;
    json_int_t version;
    struct uvk_program
        *program;             /* of which it is the first file; NULL: not read since a change */
    struct uvk_program *good; /* the latest one without errors; NULL: there was none */
};

/* How a file was when it was read. */
struct stamp {
    gint64 changed, size; /* nanoseconds; -1: it could not be read */
};

enum phase { PHASE_NEW, PHASE_READY, PHASE_SHUT, PHASE_ENDED };

struct uvk_editor {
    struct uvk_editor_hooks hooks;
    enum phase phase;
    bool well;      /* `shutdown` came before `exit` */
    bool shows;     /* the client opens files that it is told of */
    unsigned shown; /* how often it was asked to */
    enum units units;
    GHashTable *documents; /* of struct document, by their URI */
    GHashTable *told;      /* URIs of which something wrong has been told */
    GHashTable *files; /* of struct stamp, by the path: those that were read from the disk */
    bool changed;      /* since it was last told what is wrong */
};

/* ---- documents.c ------------------------------------------------------------------------- */

void document_free(void *data);
/* NULL: it is not open. */
struct document *document_named(const struct uvk_editor *editor, const char *uri);
void document_open(struct uvk_editor *editor, const char *uri, const char *text,
                   json_int_t version);
/* One of the protocol's content changes. False: it is none, nothing has changed. */
bool document_change(struct uvk_editor *editor, struct document *document,
                     const json_t *change);
/* Is a file that was read another one now? */
bool files_have_changed(const struct uvk_editor *editor);
/* Something has changed: programs have to be read anew. */
void documents_changed(struct uvk_editor *editor);
/* Its program, as all texts are now. Never NULL; owned by the document. */
struct uvk_program *document_program(struct uvk_editor *editor, struct document *document);
/* The URI of a file. Freed with g_free. */
char *document_uri_of(const struct uvk_editor *editor, const char *path);
/* DOCUMENT as a file of PROGRAM. NULL: it is none. */
const struct uvk_source *source_in(const struct uvk_editor *editor,
                                   const struct uvk_program *program,
                                   const struct document *document);
/* The open text that uses DOCUMENT and is used by none; DOCUMENT itself if nobody uses it. */
struct document *root_of(struct uvk_editor *editor, struct document *document);
/* The program of that one: DOCUMENT is among its files. */
struct uvk_program *whole_program(struct uvk_editor *editor, struct document *document);
/* With TEXTS in place of the sources of PROGRAM, which has no errors (NULL: as it is), what
 * would be otherwise? NULL: nothing. */
const char *what_changes(struct uvk_program *program, char *const *texts);

/* ---- request.c --------------------------------------------------------------------------- */

/* Why a request is not done: a code of JSON-RPC or of the protocol. */
struct failure {
    int code;
    const char *why;
};
#define FAIL_PARAMS (-32602)
#define FAIL_DONE   (-32803) /* RequestFailed */

/* The text that a request is about. NULL: *FAILURE. */
struct document *document_from(const struct uvk_editor *editor, const json_t *params,
                               struct failure *failure);
/* And the place in it. False: *FAILURE. */
struct spot {
    struct document *document;
    size_t at;
};
bool spot_from(const struct uvk_editor *editor, const json_t *params, struct spot *spot,
               struct failure *failure);

/* A span of a text. False: *FAILURE. */
struct range {
    struct document *document;
    size_t start, end; /* bytes */
};
bool range_from(const struct uvk_editor *editor, const json_t *params, struct range *range,
                struct failure *failure);

/* PLACE, which is one, as the protocol has it: in its text, and with the URI of that. */
json_t *place_to_json(const struct uvk_editor *editor, struct uvk_place place);
json_t *location_to_json(const struct uvk_editor *editor, struct uvk_place place);

void editor_send(struct uvk_editor *editor, json_t *message); /* taken */

/* ---- what can be asked for: NULL and *FAILURE, or the result --------------------------------
 */

#define ANSWER(name)                                                                           \
    json_t *name(struct uvk_editor *editor, const json_t *params, struct failure *failure)

/* diagnostics.c */
void tell_diagnostics(struct uvk_editor *editor);
/* hover.c: what a cell that is this key does, by the latest program without errors. Freed with
 * g_free; NULL: there was none, or KEY is none. */
char *key_sentence(struct uvk_editor *editor, struct document *document, const char *key);
/* plays.c: what the client may ask for by name */
#define COMMAND_PLAY "uvrek.play" /* a text, and the number of a play: how it went */
#define COMMAND_DRAW "uvrek.draw" /* the same: the URI of a picture */
#define COMMAND_TYPE "uvrek.type" /* a text, and what to type on it: the URI of a report */
#define TYPED_MOST   4096u        /* bytes */
ANSWER(answer_lenses);
ANSWER(answer_lens);
ANSWER(answer_command);
json_t *commands_there(const struct uvk_editor *editor);
/* tokens.c: what a client is told about them at the start */
json_t *token_kinds(void);
/* actions.c, complete.c, hover.c, places.c, outline.c, format.c, tokens.c, inlays.c */
ANSWER(answer_actions);
ANSWER(answer_completion);
ANSWER(answer_resolve);
ANSWER(answer_hover);
ANSWER(answer_definition);
ANSWER(answer_references);
ANSWER(answer_highlights);
ANSWER(answer_prepare_rename);
ANSWER(answer_rename);
ANSWER(answer_symbols);
ANSWER(answer_folding);
ANSWER(answer_formatting);
ANSWER(answer_range_formatting);
ANSWER(answer_tokens);
ANSWER(answer_range_tokens);
ANSWER(answer_inlays);

#endif
