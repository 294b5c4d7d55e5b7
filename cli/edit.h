/* edit.h - `uvrek live edit`: the text and the running keyboard, changed on a screen. What is
 * shown and chosen in edit.c; the text in edit_text.c, the keyboard in edit_hear.c, the
 * screen in edit_screen.c, what is typed in edit_typed.c. */
#ifndef UVREK_CLI_EDIT_H
#define UVREK_CLI_EDIT_H

#include "events.h"
#include "live.h"
#include "offers.h"

/* What a press on the keyboard, and what the terminal gets, means now. */
enum awaits {
    AWAITS_WORDS,  /* a press nothing; it is typed what the key is to do */
    AWAITS_QUIET,  /* the same; as soon as all keys are up, a press */
    AWAITS_PRESS,  /* a press chooses a key */
    AWAITS_RELEASE /* a press as well; what the terminal gets is that press, and no word */
};

struct editor {
    struct session *session; /* its keyboard is NULL where only the text can be changed */
    bool linked;             /* the keyboard does what the text says, and is changed with it */
    struct offers *offers;   /* of the text as it is now */
    GPtrArray *redo;         /* of char *: texts that were taken back, the last one last */

    unsigned layer, cell; /* what is chosen; the layer is what is shown */
    GString *typed;       /* what the cell is to be, or '?' and what is looked for */
    unsigned found;       /* offers or places for what is typed */
    unsigned picked;      /* which of them */
    GArray *places;       /* of struct offer_place, behind '?'; NULL: offers are shown */
    char *told;           /* the latest message */

    /* What the keyboard tells. */
    bool *pressed; /* of each key */
    struct events events;
    bool layers_changed; /* since the layer that is shown last followed them */
    enum awaits awaits;
    unsigned chosen_on; /* the layer that was shown when a press chose */
    gint64 quiet_since; /* when the last thing happened, by g_get_monotonic_time */

    bool done;
};

/* ---- editor.c ---- */

/* A message in the place of the latest one. */
void editor_tell(struct editor *editor, const char *format, ...) G_GNUC_PRINTF(2, 3);

/* Choose a cell, with nothing typed. */
void editor_choose(struct editor *editor, unsigned layer, unsigned cell);

/* What is typed has changed; or is forgotten. Is it a question where something is? */
void editor_look(struct editor *editor);
void editor_forget(struct editor *editor);
bool editor_is_search(const struct editor *editor);

/* ---- edit_text.c: changes of the text, and of the keyboard where it is linked ---- */

void edit_put(struct editor *editor, const char *cell);
void edit_undo(struct editor *editor);
void edit_redo(struct editor *editor);
/* The keyboard does what the text says. */
void edit_push(struct editor *editor);

/* ---- edit_hear.c: what the keyboard tells ---- */

/* Begin, or begin again. False: *ERROR. */
bool edit_listen(struct editor *editor, GError **error);
/* All that has come, waited for up to MS. */
void edit_hear(struct editor *editor, unsigned ms);

/* ---- edit_typed.c: what the terminal gets ---- */

void edit_typed(struct editor *editor, int key, bool is_code);

/* ---- edit_screen.c ---- */

void screen_draw(const struct editor *editor);
/* The cell that is the nearest one on the screen, so many to the right or down. */
unsigned screen_beside(const struct editor *editor, int right, int down);

#endif
