/* sheet.h - pictures.
 *
 * 1. The form follows from the file's name: .svg, .png or .pdf. For a terminal there is text.
 * 2. Text is text: it can be selected and searched in an SVG and in a PDF.
 * 3. Pictures read well in black and white: nothing is told by colour alone.
 * 4. A file is written whole or not at all.
 */
#ifndef UVREK_SHEET_H
#define UVREK_SHEET_H

#include "uvrek/bench.h"

#ifdef __cplusplus
extern "C" {
#endif

/* A play over time: fingers on their keys, what was undecided and why it was decided so, what
 * the host saw, the text. False: *ERROR says why. */
bool uvk_timeline_draw(const struct uvk_program *program, const struct uvk_outcome *outcome,
                       const char *path, GError **error);

/* The lights of a play at eight moments: OUTCOME has a film. False: *ERROR says why. */
bool uvk_film_draw(const struct uvk_program *program, const struct uvk_outcome *outcome,
                   const char *path, GError **error);

enum uvk_sheet_kind {
    UVK_SHEET_LAYERS,  /* needs a keymap */
    UVK_SHEET_WIRING,  /* address and pins of each key */
    UVK_SHEET_CHOICES, /* the board, and once more for each layout option */
    UVK_SHEET_PAIRS    /* which two pins make which key; as text only */
};
struct uvk_sheet {
    enum uvk_sheet_kind kind;
    int layer; /* LAYERS: only this one; -1: all */
    bool dark;
};

/* Draw a program without errors. False: *ERROR says why. */
bool uvk_sheet_draw(const struct uvk_program *program, const struct uvk_sheet *sheet,
                    const char *path, GError **error);

/* The same for a terminal COLUMNS wide (80 at least is meant). Freed with g_free. */
char *uvk_sheet_text(const struct uvk_program *program, const struct uvk_sheet *sheet,
                     unsigned columns);

/* The board with MARKS[key] in each key (NULL: nothing), for a terminal. Freed with g_free. */
char *uvk_board_text(const struct uvk_board *board, const char *const *marks, unsigned columns);

/* ---- a layer on a screen ----------------------------------------------------------------- */

/* Where a cell is on it, and how it comes there. */
struct uvk_spot {
    int x, y, width, height; /* characters and lines; width 0: it has no place */
    bool through;            /* what stands there shows through from a lower layer */
};
struct uvk_view {
    char **lines; /* ends with NULL */
    unsigned columns, line_count;
    struct uvk_spot *spots; /* of each key, and behind those two turns of each knob */
    unsigned spot_count;
};

/* LAYER as large as fits into COLUMNS by LINES; a board that does not fit even at its smallest
 * gives a larger view. Freed with uvk_view_free. */
struct uvk_view *uvk_layer_view(const struct uvk_program *program, unsigned layer,
                                unsigned columns, unsigned lines);

/* What CELL says: *UPPER, and *LOWER or NULL; both are freed. */
typedef void uvk_cell_words(const void *data, unsigned cell, char **upper, char **lower);
/* The same of BOARD, with WORDS in its keys. */
struct uvk_view *uvk_board_view(const struct uvk_board *board, uvk_cell_words *words,
                                const void *data, unsigned columns, unsigned lines);
void uvk_view_free(struct uvk_view *view);

/* The pins of KEY, the way the current flows: "B1→F4", "D0 ⏚"; by the names that are printed
 * on the module, if there are any. Freed with g_free. */
char *uvk_key_wires(const struct uvk_board *board, unsigned key);

/* What is wired beside the keys, a line each: knobs, the link, lamps. Freed with g_free. */
char *uvk_other_wires(const struct uvk_board *board);

#ifdef __cplusplus
}
#endif

#endif
