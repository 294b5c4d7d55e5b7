/* flashing.h - `uvrek flash`: the command in flash.c, how one chip is flashed in flash_run.c,
 * two halves in flash_halves.c, what it says in flash_told.c, what it asks the chip and keeps
 * in flash_kept.c, what was changed in the running keyboard in flash_live.c. */
#ifndef UVREK_FLASHING_H
#define UVREK_FLASHING_H

#include "cli.h"

#include "uvrek/flash.h"
#include "uvrek/text.h"

/* What is to be written, and where; CODE is NULL: nothing, only a copy is to be kept. */
struct errand {
    const struct uvk_chip *chip;
    const char *title, *boot;
    const char *board; /* as firmware says it in its note; NULL: it does not */
    const uint8_t *code;
    size_t size;
};

struct wishes {
    struct uvk_flash_options flash;
    const char *chip;    /* NULL: nobody says */
    const char *save;    /* the file for what is in the chip; NULL: nobody wants it */
    const char *rule;    /* the file for udev's rule; NULL: nobody wants it */
    const char *half;    /* of two, the one that is meant; NULL: both */
    const char *changes; /* made live: "keep" or "drop"; NULL: to be asked */
    gboolean dry_run, other_board, as_json;
    gboolean probe; /* no keymap is wished for */
};

/* flash_run.c: write it, or do what else the wishes say; the exit status. SEEN (NULL: nobody
 * asks) becomes whether the keyboard itself has come on USB then. */
int run_errand(const struct errand *errand, const struct wishes *wishes, bool *seen);

/* flash_halves.c: a FIRMWARE for BOARD, a controller in each half, into one half or both. The
 * exit status. */
int flash_halves(const struct uvk_board *board, const struct errand *errand,
                 const struct wishes *wishes);

/* ---- flash_told.c ---- */

/* Print what happens now, as words or as JSON: WHAT it is, and a half's name (NULL: none). */
void show_happening(const struct wishes *wishes, const char *event, const char *half,
                    const char *words);

/* How far it has come, and how that is told. */
struct shown {
    const char *title; /* of the board, or the chip */
    bool as_json, terminal, verified;
    enum uvk_flash_stage last;
    gint64 began; /* when the first byte was written, as g_get_monotonic_time; 0: not yet */
};

/* As struct uvk_flash_options has it; DATA is a struct shown. */
void show_progress(struct shown *shown, enum uvk_flash_stage stage, const char *text,
                   size_t done, size_t total);

/* Tell of ERROR, and free it; its exit status. */
int show_failure(const struct shown *shown, GError *error);

/* Ctrl-C ends the command, and says what that means for the chip. */
void catch_interrupt(void);

/* ---- flash_kept.c ---- */

/* What is in the chip is for the board that it says, or for none; a copy of it may be wanted.
 * As struct uvk_flash_options has it. */
bool look_before(const struct errand *errand, const struct wishes *wishes, const uint8_t *code,
                 size_t size, GError **error);

/* Does the chip hold, in CODE (NULL: that is not known), the firmware of another board? */
bool is_of_other_board(const struct errand *errand, const uint8_t *code, size_t size);

/* Can a copy be written as the file's name asks for? False: *ERROR. */
bool can_save(const char *path, const struct uvk_chip *chip, GError **error);

/* Write the rule that lets who sits at this computer open keyboard and bootloader. The exit
 * status. */
int write_rule(const char *path, const struct errand *errand, const struct wishes *wishes);

/* ---- flash_live.c ---- */

/* What was changed live in a keyboard that runs here, and would be lost, goes into the text at
 * PATH, if that is wished for; WRITTEN then. False: *STATUS, and nothing is to be flashed. */
bool rescue_changes(const char *path, const struct wishes *wishes, bool *written, int *status);

#endif
