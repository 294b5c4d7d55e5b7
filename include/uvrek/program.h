/* program.h - a program of the language: read, checked, and lowered to a keymap image. Desk
 * side.
 *
 * 1. uvk_program_load always gives a program; what is wrong with it is in its messages.
 *    A program without errors is complete: all that the model says can be relied on.
 * 2. The model is read-only for everybody else, and lives as long as the program.
 */
#ifndef UVREK_PROGRAM_H
#define UVREK_PROGRAM_H

#include "uvrek/board.h"
#include "uvrek/keymap.h"
#include "uvrek/play.h"
#include "uvrek/source.h"
#include "uvrek/syntax.h"

#ifdef __cplusplus
extern "C" {
#endif

/* Who gives the bytes of a file that is not on the disk as it stands, an editor say: as
 * uvk_source_bytes of source.h. */
typedef char *(*uvk_file_reader)(const char *path, size_t *size, void *data);

struct uvk_program {
    struct uvk_messages messages;
    const struct uvk_board *board;   /* NULL if the text has none */
    const struct uvk_keymap *keymap; /* NULL if the text has none */
    const struct uvk_play *plays;    /* in the order of the text */
    struct uvk_arena *arena;
    GPtrArray *sources;     /* of struct uvk_source *; the first one is the one asked for */
    GArray *names;          /* the keymap's own names; for the readers of this room */
    GHashTable *name_index; /* of these: one more than the index */
    uvk_file_reader reader; /* of files; NULL: from the disk */
    void *reader_data;
};

/* Read a program from a file and the files that it uses. Never NULL. */
struct uvk_program *uvk_program_load(const char *path);

/* The same, but all files by READER with DATA, which both have to outlive the program. */
struct uvk_program *uvk_program_load_by(const char *path, uvk_file_reader reader, void *data);

/* The same from memory; PATH names it in messages, and `use` is relative to it. */
struct uvk_program *uvk_program_read(const char *path, const char *text, size_t size);

/* The board of PROGRAM alone, which has no errors, as it is with option OPTIONS[i] of its
 * choice i. Its files are read again. Never NULL; freed with uvk_program_free. */
struct uvk_program *uvk_program_choosing(const struct uvk_program *program,
                                         const unsigned *options);

/* A board with one of its layout choices made otherwise. */
struct uvk_variant {
    struct uvk_program *program; /* of the board alone */
    char *title;                 /* "enter iso"; of the first one all that is chosen */
};

/* The board of PROGRAM as it is chosen, and once more for each option that is not. Each is
 * freed with the list. */
GPtrArray *uvk_board_variants(const struct uvk_program *program); /* of struct uvk_variant * */

void uvk_program_free(struct uvk_program *program);

/* The keymap image of a program without errors that has a board and a keymap. The caller
 * frees it with g_free. NULL if the keymap holds more than an image can: then the message
 * is among the program's. */
uint8_t *uvk_lower(struct uvk_program *program, uint16_t *size);

/* Do two programs without errors have the same image? True, if they have no keymap. */
bool uvk_program_same(struct uvk_program *one, struct uvk_program *other);

/* TEXT as the language writes a string: in quotes, with escapes. Freed with g_free. */
char *uvk_string_text(const char *text);

#ifdef __cplusplus
}
#endif

#endif
