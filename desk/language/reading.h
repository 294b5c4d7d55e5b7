/* reading.h - from the tree to the model: what the readers of this room share. */
#ifndef UVREK_TEXT_READING_H
#define UVREK_TEXT_READING_H

#include "uvrek/text.h"

/* A name of the keymap's own: a layer or a let. */
struct own_name {
    struct uvk_place place;
    const char *name;
    enum { OWN_LAYER, OWN_LET, OWN_MACRO, OWN_DANCE, OWN_BROKEN } kind;
    unsigned layer;                    /* which layer, macro or dance it is */
    const struct uvk_node *meaning;    /* OWN_LET: its cells, linked by next */
    const struct uvk_node *parameters; /* of a let, linked by next; NULL: none */
    bool used;                         /* something names it */
    bool visiting;                     /* its meaning is being worked out just now */
    const struct uvk_value *known[2];  /* it was worked out; [1]: for its own sake only */
};

/* A parameter of a let, and what it stands for in this call. */
struct binding {
    const char *name;
    struct uvk_value value;
    const struct binding *next;
};

struct reading {
    struct uvk_program *program;
    struct uvk_messages *messages;
    struct uvk_arena *arena;
    struct uvk_board *board;
    struct uvk_keymap *keymap;
    GArray *own;                    /* of struct own_name */
    bool defining;                  /* a let is read only for its own sake */
    unsigned expanded, nested;      /* lets that were worked out; that are just now */
    const struct binding *bindings; /* of the let that is being worked out */
    GArray *places;                 /* of struct uvk_key_place, as they are read */
    /* What a mistake has left unknown: what would follow from it is not told as well. */
    bool halves_unknown, wires_unknown, places_unknown, knobs_unknown;
    bool keys_unknown;       /* how many keys the board has, and so the layers' cells */
    bool link_missed;        /* two halves read by one controller, as it seems, share pins */
    bool files_unknown;      /* a used file could not be read: the board may be in it */
    bool play_lacks;         /* a play was told that it has no board or keymap */
    const unsigned *options; /* the board's choices are these; NULL: as usual */
    bool mirrored;           /* the second half is a mirror of the first */
    struct uvk_place mirror_place;
    double gap;        /* between halves */
    GPtrArray *chosen; /* of struct uvk_node *: the keymap's choices */
    GPtrArray *blocks; /* of struct uvk_node *, one for each file, in order of use */
    struct uvk_play **play_end;
};

/* One kind of statement in a block. */
struct rule {
    const char *word;
    /* SUBJECT: what the block is about, as read_block was given it. NULL: not yet. */
    void (*read)(struct reading *, const struct uvk_node *statement, void *subject);
    bool many; /* may stand there more than once */
};

/* rules.c: read the statements of BLOCK in the order of RULES (so that a statement can
 * rely on those before it in the table, wherever they stand in the text). OF names the
 * block in messages. */
void read_block(struct reading *reading, const struct uvk_node *block, const struct rule *rules,
                size_t count, const char *of, void *subject);

/* The statement's keyword, NULL if it does not start with a name. */
const char *keyword(const struct uvk_node *statement);

/* The item at INDEX (0 is the keyword), NULL if the statement has fewer. */
const struct uvk_node *item(const struct uvk_node *statement, unsigned index);

/* The item at INDEX if it is a KIND, else NULL and a message that WHAT was expected. */
const struct uvk_node *want(struct reading *reading, const struct uvk_node *statement,
                            unsigned index, enum uvk_node_kind kind, const char *what);

/* Complain if there is an item at INDEX. */
void want_end(struct reading *reading, const struct uvk_node *statement, unsigned index);

/* The block of a statement, or NULL and a message. */
const struct uvk_node *want_block(struct reading *reading, const struct uvk_node *statement);

/* A number within LEAST..MOST into *OUT; what it is, for the message, in WHAT. */
bool want_number(struct reading *reading, const struct uvk_node *node, double least,
                 double most, const char *what, double *out);

/* A time within LEAST..MOST microseconds. */
bool want_time(struct reading *reading, const struct uvk_node *node, double least, double most,
               double *out);

/* "did you mean 'X'?", to be freed with g_free; NULL if nothing is near. */
char *did_you_mean(const char *word, size_t count,
                   const char *(*name_of)(size_t index, const void *data), const void *data);

/* NODE, a string, is a name for people: WHAT has nothing in it that cannot be seen. */
bool want_visible(struct reading *reading, const struct uvk_node *node, const char *what);

void not_supported_yet(struct reading *reading, struct uvk_place place, const char *what);

/* An item of a NULL-terminated list of words; -1 and a message with CODE if it is none. */
int want_word(struct reading *reading, const struct uvk_node *node, enum uvk_code code,
              const char *const *words, const char *what);

/* Has BLOCK a statement that begins with WORD? A misspelt one is there as well: it has a
 * message of its own. */
bool has_statement(const struct uvk_node *block, const char *word);

/* Say which of WORDS (NULL-terminated) has no statement in BLOCK. */
void want_statements(struct reading *reading, const struct uvk_node *block,
                     struct uvk_place place, const char *const *words, const char *of);

/* sources.c: take BYTES (owned) as a source of the program. NULL if they are no text: that is
 * told at PLACE, where the file is used. */
struct uvk_source *add_source(struct reading *reading, const char *path, char *bytes,
                              size_t size, struct uvk_place place);
/* The source that was read from PATH already; NULL: none. */
struct uvk_source *source_at(const struct reading *reading, const char *path);
void free_source(void *data);

/* program.c: what is read while a program is, or, once its model is complete, beside it. */
struct reading begin_reading(struct uvk_program *program, struct uvk_messages *messages);
void end_reading(struct reading *reading);
/* The first file of a program: its BYTES (taken), NULL: errno says why; and who gives those of
 * the others, NULL: the disk. */
struct text_read {
    const char *path;
    char *bytes;
    size_t size;
    uvk_file_reader reader;
    void *reader_data;
};
/* Nothing doubtful is told yet. OPTIONS: the board alone, with these; NULL: all of it. */
struct uvk_program *read_program(const struct text_read *text, const unsigned *options);

/* board.c */
void read_board(struct reading *reading, const struct uvk_node *statement, void *subject);

/* choices.c */
void read_choice(struct reading *reading, const struct uvk_node *statement, void *subject);
/* Choices that the keymap makes and the board does not offer. */
void check_chosen(struct reading *reading);
struct uvk_choice *choice_named(const struct uvk_board *board, const char *name);
/* Say that the board offers no choice NAME, and what it offers. */
void no_such_choice(struct reading *reading, struct uvk_place place, const char *name);
int want_option(struct reading *reading, const struct uvk_choice *choice,
                const struct uvk_node *node);

/* halves.c */
void read_halves(struct reading *reading, const struct uvk_node *statement, void *subject);
/* The half that NODE names; -1 and a message if it is none. */
int want_half(struct reading *reading, const struct uvk_node *node);
/* Which halves a statement is about: the one that the item at INDEX names, or all. NEXT is
 * the index of the item behind that. False: it names no half, which has been told. */
struct which_halves {
    unsigned first, last, next;
};
bool want_halves(struct reading *reading, const struct uvk_node *statement, unsigned index,
                 struct which_halves *which);

/* wiring.c: the half that a statement wires; FOR_BOTH: one statement wires both. */
struct wired {
    struct uvk_half *half;
    unsigned number;
    bool for_both;
};
void read_matrix(struct reading *reading, const struct uvk_node *statement, void *subject);
void read_direct(struct reading *reading, const struct uvk_node *statement, void *subject);

/* pins.c */
void read_pin_names(struct reading *reading, const struct uvk_node *statement, void *subject);
/* The pin that NODE names, or NULL and a message. */
const struct uvk_pin *find_pin(struct reading *reading, const struct uvk_node *node);
/* The same, and nothing else on HALF uses it. */
const struct uvk_pin *take_pin(struct reading *reading, unsigned half, bool for_both,
                               const struct uvk_node *node);

/* spare.c */
void read_spare(struct reading *reading, const struct uvk_node *statement, void *subject);

/* lamps.c */
void read_backlight(struct reading *reading, const struct uvk_node *statement, void *subject);
void read_lamp(struct reading *reading, const struct uvk_node *statement, void *subject);
/* The pin behind the keyword; NULL and a message if there is none. */
const struct uvk_pin *lamp_pin(struct reading *reading, const struct uvk_node *statement);
/* A number behind the keyword, and nothing else. */
void read_count(struct reading *reading, const struct uvk_node *statement, double least,
                double most, const char *what, unsigned *out);

/* strip.c */
void read_strip(struct reading *reading, const struct uvk_node *statement, void *subject);
/* What lies above its lamps, which BLOCK, the board's, says: the keys are known by now. */
void finish_strip(struct reading *reading, const struct uvk_node *block);

/* knobs.c */
void read_knob(struct reading *reading, const struct uvk_node *statement, void *subject);
int knob_named(const struct uvk_board *board, const char *name); /* -1: none */
/* The knob that NODE (perhaps NULL) names; -1 and a message if there is none. */
int want_knob(struct reading *reading, const struct uvk_node *node);

/* keys.c */
void read_keys(struct reading *reading, const struct uvk_node *statement, void *subject);
struct key_address {
    bool direct;
    unsigned row, col;
};
/* rNcM or dN; false if TEXT is no such address. */
bool parse_address(const char *text, struct key_address *address);
/* The key of HALF at ADDRESS; false if there is none. */
bool key_wired_at(const struct uvk_board *board, unsigned half,
                  const struct key_address *address, unsigned *key);
/* The key at the address NODE, perhaps with its half before it; false if there is none. */
bool find_address(struct reading *reading, const struct uvk_node *node, unsigned *key);

/* Is the address of KEY wired on its half? If not, that is told at PLACE, unless what is wired
 * is unknown. */
bool check_wiring(struct reading *reading, struct uvk_place place,
                  const struct uvk_key_place *key);

/* places.c: put the keys in order, and look at the board as a whole. PLACE is where to say
 * what is wrong with all of it. */
void finish_keys(struct reading *reading, struct uvk_place place);

/* feels.c */
/* One more feel; NULL: there are UVK_FEELS_MAX already. */
struct uvk_feel_text *add_feel(struct reading *reading, const char *name);
void read_feel(struct reading *reading, const struct uvk_node *statement, void *subject);
/* The feel of that name, -1 if there is none. The first is `default`. */
int feel_named(const struct uvk_keymap *keymap, const char *name);
void add_default_feel(struct reading *reading);

/* acts.c: what is added at the ends of a macro: of what it does, and of how that is written. */
struct ends {
    struct uvk_macro_act **act;
    struct uvk_macro_line **line;
};
void add_act(struct reading *reading, struct ends *ends, enum uvk_macro_part part,
             const struct uvk_value *value, double time);
void add_tap(struct reading *reading, struct ends *ends, const struct uvk_value *value);
/* A key of typed text; GOES_ON: of the same character as the one before. */
void add_stroke(struct reading *reading, struct ends *ends, const struct uvk_value *value,
                bool goes_on);

/* characters.c: what is typed comes as it is written, whatever modifiers are held. */
/* '?': one key, or a macro of several. */
struct uvk_value character_value(struct reading *reading, const struct uvk_node *node);
/* What it takes to type CHARACTER, added to the macro that is being read. False: it cannot be
 * typed, and nothing was added. */
bool add_character(struct reading *reading, struct ends *ends, gunichar character);
/* Say that no keys type these CHARACTERS, or that it is not known which. */
void tell_not_typed(struct reading *reading, struct uvk_place place, const char *characters);
/* The same as keys that are tapped, if it is one key: held modifiers go with it. */
bool add_tapped_character(struct reading *reading, struct ends *ends, gunichar character);

/* macros.c */
/* Say which macros come to themselves, or hold too much. */
void check_macros(struct reading *reading);
void read_macro(struct reading *reading, const struct uvk_node *statement, void *subject);

/* combos.c */
void read_combo(struct reading *reading, const struct uvk_node *statement, void *subject);

/* settings.c: set NAME VALUE */
void read_set(struct reading *reading, const struct uvk_node *statement, void *subject);
/* All settings as they are when nobody sets them. */
void usual_settings(struct uvk_setting_text *settings);

/* dances.c */
void read_dance(struct reading *reading, const struct uvk_node *statement, void *subject);
/* Say which dances are part of themselves. */
void check_dances(struct reading *reading);

/* leader.c */
void read_leader(struct reading *reading, const struct uvk_node *statement, void *subject);

/* long_press.c */
void read_live(struct reading *reading, const struct uvk_node *statement, void *subject);
void read_long_press(struct reading *reading, const struct uvk_node *statement, void *subject);
/* Turn the cells that it is for into tap-holds. */
void apply_long_press(struct reading *reading);

/* lights.c */
void read_lights(struct reading *reading, const struct uvk_node *statement, void *subject);
/* light #RRGGBB in a layer. */
void read_layer_light(struct reading *reading, const struct uvk_node *statement,
                      struct uvk_layer_text *layer);

/* keymap.c */
void read_keymap(struct reading *reading, const struct uvk_node *statement, void *subject);

/* cells.c: what a cell does. Mistakes are told, and the value is BROKEN. */
struct uvk_value cell_value(struct reading *reading, const struct uvk_node *node);
/* The let that NODE names, if it stands for other than one cell; NULL if not. */
struct own_name *several_cells(struct reading *reading, const struct uvk_node *node);
/* The arguments of NODE, a call of OWN, worked out. False: their number is wrong, which has
 * been told. */
bool bind_arguments(struct reading *reading, const struct uvk_node *node,
                    const struct own_name *own, const struct binding **bindings);
struct own_name *own_named(const struct reading *reading, const char *name);

/* doubts.c: warnings about a text without mistakes. */
void tell_doubts(struct reading *reading);
/* leaving.c, together.c, lacking.c: the ones that take more words */
void doubt_stuck_layers(struct reading *reading);
void doubt_combos(struct reading *reading);

/* pairs.c */
void doubt_pairs(struct reading *reading, const struct uvk_combo_text *combo);

void doubt_missing_keys(struct reading *reading);
void doubt_keypad(struct reading *reading);
void doubt_settings(struct reading *reading);
/* lights.c */
void doubt_lights(struct reading *reading);
/* knob_doubts.c */
void doubt_knobs(struct reading *reading);

/* board_doubts.c: the same about a board without mistakes, with all its layout choices. */
void tell_board_doubts(struct reading *reading);

/* play_keys.c */
/* The key that taps NODE's value in the first layer, or is at that address. */
bool find_key(struct reading *reading, const struct uvk_node *node, unsigned *key);
/* expect_lights.c: expect light ..., expect lamps ... */
bool read_expect_light(struct reading *reading, const struct uvk_node *statement,
                       struct uvk_step *step);
bool read_expect_lamps(struct reading *reading, const struct uvk_node *statement,
                       struct uvk_step *step);
/* plays.c */
void read_play(struct reading *reading, const struct uvk_node *statement, void *subject);
struct uvk_step *read_step(struct reading *reading, const struct uvk_node *statement);

/* ---- guesses.c ---- */

/* How a word that names nothing was probably meant in a cell; NULL: no idea. Freed with
 * g_free. */
char *guess_name(const char *word);
/* The same of WORD:BEHIND, when WORD is nothing that stands before a colon. */
char *guess_prefix(const char *word, const struct uvk_node *behind);

/* ---- media_names.c ---- */

/* Keys of the consumer page. */
const struct uvk_key_name *media_names(size_t *count);

/* ---- depth.c ---- */

/* How deep thing INDEX goes, with what is KNOWN of the depth of all. */
typedef unsigned depth_function(const struct uvk_keymap *keymap, unsigned index,
                                const unsigned *known);

/* How deep each of COUNT things goes, freed with g_free. Each of the ROUNDS knows all that is
 * one deeper: what stands in itself is ROUNDS deep at least. */
unsigned *nested_depths(const struct uvk_keymap *keymap, unsigned count, unsigned rounds,
                        depth_function *depth);

#endif
