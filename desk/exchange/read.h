/* read.h - from JSON that has its shape to a text of the language. */
#ifndef UVREK_EXCHANGE_READ_H
#define UVREK_EXCHANGE_READ_H

#include "combinations.h"

#include "uvrek/exchange.h"

#include <jansson.h>

#define SMALL 1e-6 /* key units that are nothing */

/* A text that grows, and what of it comes from where in the JSON. */
struct text_span {
    char *pointer;
    size_t start, end;
};
struct text_out {
    GString *text;
    GArray *spans; /* of struct text_span, by their starts */
    GPtrArray *problems;
};

/* What is put from now on comes from POINTER (owned), until span_end with the same number. */
guint span_begin(struct text_out *out, char *pointer);
void span_end(struct text_out *out, guint span);

void out_put(struct text_out *out, const char *format, ...) G_GNUC_PRINTF(2, 3);
void out_number(struct text_out *out, double number);
void out_time(struct text_out *out, double milliseconds);
void out_string(struct text_out *out, const char *text); /* in quotes */

/* Take the "; " away that stands behind the last of several items. */
void end_items(struct text_out *out);

/* A member of JSON that is put as it is (of a pointer that ends with its name). */
void out_text(struct text_out *out, const char *pointer, const json_t *text);

/* A cell, which is one cell and nothing more; else a problem at POINTER. */
void out_cell(struct text_out *out, const char *pointer, const json_t *cell);

const char *text_of(const json_t *object, const char *name, const char *usual);
double number_of(const json_t *object, const char *name, double usual);
bool flag_of(const json_t *object, const char *name);

/* Call EACH for every element of the list that is the member NAME of OBJECT, with its
 * pointer. */
typedef void (*each_element)(struct text_out *out, const json_t *element, const char *pointer,
                             void *data);
void for_each(struct text_out *out, const json_t *object, const char *name, const char *pointer,
              each_element each, void *data);

/* ---- keys_in.c: the keys of a board ------------------------------------------------------ */

/* Where a key is with one combination of choices. */
struct placed_spot {
    double x, y;         /* upper left corner, before it is turned */
    double along, below; /* the same in its line's own direction */
};

struct placed_key {
    const json_t *json; /* a key, or a knob without a switch */
    char *pointer;
    unsigned half;
    unsigned line; /* of its half */
    double width, height, turn;
    bool is_knob;
    int option[UVK_CHOICES_MAX]; /* with which it is there; ANY_OPTION: all */
    unsigned usual;              /* the combination with these and otherwise first options */
    struct placed_spot *spots;   /* one for each combination */
};

struct placed_board {
    const json_t *json;
    GArray *keys; /* of struct placed_key, in the order of the JSON */
    unsigned halves;
    unsigned lines[UVK_HALVES];
    struct combinations all;
    unsigned chosen; /* the combination in force */
};

/* False: there are problems. Cleared in any case. */
bool place_keys(struct text_out *out, const json_t *board, struct placed_board *placed);
void clear_placed(struct placed_board *placed);
bool key_is_there(const struct placed_board *placed, const struct placed_key *key,
                  unsigned combination);

/* lines_in.c: the lines of cells of a half, in braces. */
void put_lines_of_half(struct text_out *out, const struct placed_board *placed, unsigned half);

/* halves_in.c: the `keys` statements. */
void put_keys(struct text_out *out, struct placed_board *placed);

/* board_in.c, keymap_in.c */
void put_board(struct text_out *out, struct placed_board *placed);
void put_settings(struct text_out *out, const json_t *object, const char *pointer);
void put_keymap(struct text_out *out, const json_t *json, const struct placed_board *placed);

#endif
