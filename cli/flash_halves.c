/* flash_halves.c - `uvrek flash` of a keyboard with a controller in each half: one after the
 * other, a word about the cables when it matters, and a look whether they understand one
 * another. */
#include "flashing.h"

#include "uvrek/firmware.h"

#include <stdio.h>
#include <string.h>

/* The cable between the halves has power on it too: plugged in or pulled under power, it joins
 * wires for a moment that are not meant for one another. */
#define CABLES                                                                                 \
    "Take the USB cable out before you join the halves or part them: under power that can "    \
    "destroy a chip."

static void tell(const struct wishes *wishes, const char *event, const char *half,
                 const char *format, ...) G_GNUC_PRINTF(4, 5);

static void tell(const struct wishes *wishes, const char *event, const char *half,
                 const char *format, ...)
{
    va_list arguments;
    char *words;

    va_start(arguments, format);
    words = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    show_happening(wishes, event, half, words);
    g_free(words);
}

/* One half gets its firmware, which says which one it is. */
static int flash_half(const struct uvk_board *board, const struct errand *whole, int half,
                      const struct wishes *wishes, bool *seen)
{
    struct errand errand = *whole;
    uint8_t *code = g_memdup2(whole->code, whole->size);
    char *title = g_strdup_printf("%s, %s", whole->title, board->halves[half].name);
    int status;

    if (uvk_two_files(board) || board->main == UVK_MAIN_STORED) {
        (void)uvk_set_half(code, whole->size, half);
    }
    errand.code = code;
    errand.title = title;
    status = run_errand(&errand, wishes, seen);
    g_free(code);
    g_free(title);
    return status;
}

static int flash_one(const struct uvk_board *board, const struct errand *errand, int half,
                     const struct wishes *wishes)
{
    const char *name = board->halves[half].name;
    const char *other = board->halves[1 - half].name;

    tell(wishes, "half", name, "Put the USB cable into %s. " CABLES, name);
    if (flash_half(board, errand, half, wishes, NULL) != STATUS_WELL) {
        return STATUS_NOT_DONE;
    }
    tell(wishes, "other-half", other, "%s has to have the firmware of the same keymap: %s",
         other, uvk_two_files(board) ? "its own file" : "the same file");
    return STATUS_WELL;
}

/* The keyboard itself says whether its halves understand one another. */
static int look_at_both(const struct uvk_board *board, const struct wishes *wishes)
{
    const char *name = board->halves[uvk_main_half(board)].name;
    struct uvk_halves_told told;
    GError *error = NULL;

    tell(wishes, "join", name,
         "Take the USB cable out, join the halves, and put it into %s: then they are asked "
         "whether "
         "they understand one another.",
         name);
    if (!uvk_await_halves(&wishes->flash, &told, &error)) {
        return print_problem(error);
    }
    tell(wishes, "joined", board->halves[told.second].name,
         "both halves answer, with the same firmware; %s is the main one",
         board->halves[told.second].name);
    return STATUS_WELL;
}

static int flash_both(const struct uvk_board *board, const struct errand *errand,
                      const struct wishes *wishes)
{
    const char *const names[] = {board->halves[0].name, board->halves[1].name};
    bool seen = false;
    int status = STATUS_WELL;

    tell(wishes, "halves", NULL,
         "%s has a controller in each half: first %s, then %s, %s. " CABLES, board->title,
         names[0], names[1],
         uvk_two_files(board) ? "each with its own file" : "both with the same file");
    for (int half = 0; status == STATUS_WELL && half < (int)UVK_HALVES; half++) {
        if (half == 0) {
            tell(wishes, "half", names[0], "Put the USB cable into %s.", names[0]);
        } else {
            tell(wishes, "half", names[1], "Take the USB cable out of %s, and put it into %s.",
                 names[0], names[1]);
        }
        status = flash_half(board, errand, half, wishes, &seen);
    }
    if (status != STATUS_WELL || wishes->dry_run) {
        return status;
    }
    if (!seen && wishes->flash.usbip == NULL) {
        tell(wishes, "join", NULL,
             "Take the USB cable out, join the halves, and put it in again; `uvrek ready FILE` "
             "says then whether they understand one another.");
        return STATUS_WELL;
    }
    return look_at_both(board, wishes);
}

int flash_halves(const struct uvk_board *board, const struct errand *errand,
                 const struct wishes *wishes)
{
    int half = wishes->half != NULL ? uvk_half_named(board, wishes->half) : -1;

    if (wishes->half != NULL && half < 0) {
        complain("the halves of %s are %s and %s; there is no '%s'", board->name,
                 board->halves[0].name, board->halves[1].name, wishes->half);
        return STATUS_NOT_DONE;
    }
    if (half < 0 && wishes->save != NULL) {
        complain("a copy is of one half: add --half %s or --half %s", board->halves[0].name,
                 board->halves[1].name);
        return STATUS_NOT_DONE;
    }
    return half < 0 ? flash_both(board, errand, wishes)
                    : flash_one(board, errand, half, wishes);
}
