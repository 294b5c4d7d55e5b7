/* live.h - what the subcommands of `uvrek live` share. */
#ifndef UVREK_CLI_LIVE_H
#define UVREK_CLI_LIVE_H

#include "cli.h"

#include "uvrek/live.h"

/* What is asked for on the command line. */
struct live_wishes {
    char *at; /* NULL: the one keyboard that is here */
    gboolean as_json;
    char *picture;   /* of `watch`: a file; NULL: none */
    gboolean pauses; /* of `macro`: the pauses between the keys, too */
};

/* A keyboard, and the text that it is compared with. */
struct session {
    const struct live_wishes *wishes;
    const char *path;
    struct uvk_program *program; /* without errors; NULL: no text is spoken of */
    uint8_t *bytes;              /* its image */
    uint16_t size;               /* of that */
    struct uvk_image wanted;
    struct uvk_live *live;
    struct uvk_live_facts facts;
    /* Where no keyboard is found, or no probe: why one is wanted, NULL if none is; and for what
     * `flash --probe` makes it. */
    const char *otherwise, *probe_for;
    bool is_shown; /* what is to change has been shown already */
};

/* ---- live_find.c ---- */

/* Read PATH, if it is not NULL. False: *STATUS. */
bool session_read(struct session *session, const struct live_wishes *wishes, const char *path,
                  int *status);
/* The same where a board alone is enough. */
bool session_read_board(struct session *session, const struct live_wishes *wishes,
                        const char *path, int *status);
/* Lower the program, which is there. False: it has mistakes, or is too large; its messages say.
 */
bool session_lower(struct session *session);
/* The half of BOARD that a probe is in is called NAME; it does not matter where one controller
 * reads both. False: *ERROR. */
bool probed_half(const struct uvk_board *board, const char *name, unsigned *half,
                 GError **error);
/* Find the keyboard, and open it. False: *ERROR. */
bool session_find(struct session *session, GError **error);
/* Is it a probe? And: find one. False: *ERROR. */
bool session_has_probe(const struct session *session);
bool session_find_probe(struct session *session, GError **error);
/* Open FOUND, one of those that are here. False: *ERROR. */
bool session_take(struct session *session, const struct uvk_live_found *found, GError **error);
void session_end(struct session *session);

/* Keyboards at the place that WISHES say. NULL: *ERROR. */
GPtrArray *keyboards_at(const struct live_wishes *wishes, GError **error);
/* Those that answer, and are of the board that the session's text is for. Where none can be
 * seen, there is none. */
GPtrArray *keyboards_of_board(const struct session *session);

/* ---- live_open.c ---- */

/* Open the door, if it is not: the keyboard asks, whoever sits there presses. */
bool session_open(struct session *session, GError **error);

/* ---- live_both.c ---- */

/* A session of TEXT, as if it stood in PATH; it is to be ended. False: the messages of its
 * program say why. */
bool session_of_text(struct session *next, const char *path, const char *text, size_t size);

/* The keyboard of SESSION, whose door is open, does what NEXT says, and then the file says it,
 * too: TEXT. If that cannot be written, the keyboard does again what it did. NEEDED: bytes of
 * the room. False: *ERROR. */
bool both_become(struct session *session, const struct session *next, const char *text,
                 size_t size, unsigned *needed, GError **error);

/* ---- live_undo.c ---- */

/* Keep the text BEFORE, that became AFTER, SIZE bytes, in the file at PATH. */
bool undo_keep(const char *path, const char *before, const char *after, size_t size,
               GError **error);
/* The text before the last change, if the file's text is still NOW; what it was kept in into
 * *FILE, to be removed when that is done. NULL: *ERROR. */
char *undo_last(const char *path, const char *now, size_t size, char **file, GError **error);

/* ---- live_set.c ---- */

/* STATEMENT, which has been shown, becomes part of the text and of the keyboard, and what keys
 * do otherwise is told; the exit status. A keyboard that is open already is the one. */
int session_put(struct session *session, const char *statement);

/* ---- live_told.c ---- */

/* The keyboard's name and number: "subtitle-desk 1A2B3C4D". Freed with g_free. */
char *keyboard_text(const struct uvk_live_facts *facts);
/* LIVE: what was changed in the keyboard since it was built, so that it is told which of both
 * was changed; NULL: that is not told. */
void print_differences(const GPtrArray *differences, const char *from, const char *to,
                       const GPtrArray *live);
void differences_to_json(json_t *json, const GPtrArray *differences, const GPtrArray *live);
/* The running keyboards of the board of the file at PATH, a keymap without mistakes, at AT
 * (NULL: here), and whether they do what it says: printed, or as `live` of JSON. */
void print_live(const char *path, const char *at, json_t *json);

/* ---- subcommands ---- */

int live_list(const struct live_wishes *wishes, int count, char **words);
int live_open_door(const struct live_wishes *wishes, int count, char **words);
int live_close_door(const struct live_wishes *wishes, int count, char **words);
int live_restart(const struct live_wishes *wishes, int count, char **words);
int live_bootloader(const struct live_wishes *wishes, int count, char **words);
int live_diff(const struct live_wishes *wishes, int count, char **words);
int live_push(const struct live_wishes *wishes, int count, char **words);
int live_pull(const struct live_wishes *wishes, int count, char **words);
int live_forget(const struct live_wishes *wishes, int count, char **words);
int live_set(const struct live_wishes *wishes, int count, char **words);
int live_light(const struct live_wishes *wishes, int count, char **words);
int live_swap(const struct live_wishes *wishes, int count, char **words);
int live_undo(const struct live_wishes *wishes, int count, char **words);
int live_macro(const struct live_wishes *wishes, int count, char **words);
int live_edit(const struct live_wishes *wishes, int count, char **words);
int live_watch(const struct live_wishes *wishes, int count, char **words);

#endif
