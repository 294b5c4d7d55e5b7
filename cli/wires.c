/* wires.c - `uvrek wires`: how a board is really wired, learned by pressing its keys. */
#include "asking.h"
#include "events.h"

#include "uvrek/files.h"

#include <stdio.h>
#include <string.h>

struct wishes {
    struct live_wishes live;
    char *half, *only, *chip;
    gboolean dry_run, alike, link;
};

/* ---- what came of it --------------------------------------------------------------------- */

static void print_list(const char *head, const GPtrArray *told)
{
    if (told->len > 0 && head != NULL) {
        puts(head);
    }
    for (guint i = 0; i < told->len; i++) {
        printf("%s%s\n", head != NULL ? "  " : "", (const char *)told->pdata[i]);
    }
}

/* The lines that differ: both have as many. */
static void print_changes(const char *before, const char *after)
{
    char **old = g_strsplit(before, "\n", -1);
    char **new = g_strsplit(after, "\n", -1);

    for (guint i = 0; old[i] != NULL && new[i] != NULL; i++) {
        if (strcmp(old[i], new[i]) != 0) {
            printf("line %u was  %s\n%*s now  %s\n", i + 1, g_strstrip(old[i]),
                   (int)g_snprintf(NULL, 0, "line %u", i + 1), "", g_strstrip(new[i]));
        }
    }
    g_strfreev(new);
    g_strfreev(old);
}

/* What the corrected file still does not explain is for the soldering iron. */
static int print_rest(const struct uvk_wiring *wiring, const char *path)
{
    struct uvk_program *program = uvk_program_load(path);
    struct uvk_wiring *again;
    GPtrArray *told;
    int status = STATUS_NOT_WELL;

    if (program->board != NULL && program->messages.errors == 0) {
        again = uvk_wiring_again(wiring, program->board);
        told = uvk_wiring_told(again);
        print_list("what no file can mend:", told);
        status = told->len > 0 ? STATUS_NOT_WELL : STATUS_WELL;
        g_ptr_array_unref(told);
        uvk_wiring_free(again);
    } else {
        print_messages(&program->messages);
    }
    uvk_program_free(program);
    return status;
}

static int mend(const struct uvk_wiring *wiring, const struct wishes *wishes, const char *path)
{
    const char *changed;
    GError *error = NULL;
    size_t size;
    size_t size_before;
    char *text = uvk_wiring_mend(wiring, wishes->alike, &size, &changed, &error);
    char *before = text != NULL ? uvk_source_bytes(changed, &size_before) : NULL;
    int status = STATUS_NOT_WELL;

    if (text == NULL) {
        return print_problem(error);
    }
    if (before != NULL) {
        print_changes(before, text);
    }
    if (wishes->dry_run) {
        printf("%s was not changed\n", changed);
    } else if (uvk_file_write(changed, text, size, &error)) {
        printf("%s says so now; build and flash the keymap\n", changed);
        status = print_rest(wiring, path);
    } else {
        status = print_problem(error);
    }
    g_free(before);
    g_free(text);
    return status;
}

static int conclude(const struct uvk_wiring *wiring, const struct wishes *wishes,
                    const char *path)
{
    GPtrArray *told = uvk_wiring_told(wiring);
    bool well = told->len == 0;

    print_list(NULL, told);
    g_ptr_array_unref(told);
    if (uvk_wiring_differs(wiring)) {
        return mend(wiring, wishes, path);
    }
    puts(well ? "the wiring is as the file says" : "nothing of that is for the file to say");
    return well ? STATUS_WELL : STATUS_NOT_WELL;
}

/* ---- the command ------------------------------------------------------------------------- */

static struct wishes wishes;

static const GOptionEntry options[] = {
    {"at", 0, 0, G_OPTION_ARG_STRING, &wishes.live.at,
     "Which keyboard: its place on the USB, or PORT or ADDRESS:PORT of a bench", "WHICH"},
    {"half", 0, 0, G_OPTION_ARG_STRING, &wishes.half,
     "With a controller in each half: the half that the probe is in", "NAME"},
    {"alike", 0, 0, G_OPTION_ARG_NONE, &wishes.alike,
     "The other half is wired like this one: what the file says of both is corrected", NULL},
    {"chip", 0, 0, G_OPTION_ARG_STRING, &wishes.chip,
     "Nothing is known but the chip: learn the board, and write it to FILE, a new one", "CHIP"},
    {"link", 0, 0, G_OPTION_ARG_NONE, &wishes.link,
     "Learn only the cable between the two halves, and the main half: a probe is in each",
     NULL},
    {"only", 0, 0, G_OPTION_ARG_STRING, &wishes.only, "Ask for these keys only", "r0c1,r0c2"},
    {"dry-run", 0, 0, G_OPTION_ARG_NONE, &wishes.dry_run,
     "Show what would be corrected; the file stays as it is", NULL},
    G_OPTION_ENTRY_NULL};

static bool learn_cable(struct hearing *hearing, struct uvk_wiring *wiring,
                        const struct uvk_board *board, GError **error)
{
    struct uvk_calls *calls;
    enum heard heard;

    if (uvk_one_controller(board)) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                            "--link is for a board with a controller in each half");
        return false;
    }
    puts("listening for the probe of the other half");
    (void)fflush(stdout);
    calls = uvk_calls_new(board->chip);
    heard = hear_cable(hearing, calls, error);
    if (heard == HEARD_PRESS) {
        uvk_wiring_take_cable(wiring, calls);
    } else if (heard == HEARD_STOP) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                            "stopped before enough was heard: run it again");
    }
    uvk_calls_free(calls);
    return heard == HEARD_PRESS;
}

static bool learn(struct session *session, struct uvk_wiring *wiring, GError **error)
{
    char **only = wishes.only != NULL ? g_strsplit(wishes.only, ",", -1) : NULL;
    struct hearing hearing;
    bool good = hearing_begin(&hearing, session->live, session->program->board->chip, error);

    if (good) {
        hearing_join(&hearing, wiring);
        good = wishes.link ? learn_cable(&hearing, wiring, session->program->board, error)
                           : ask_all(&hearing, wiring, session->program, only, error);
    }
    hearing_end(&hearing);
    g_strfreev(only);
    return good;
}

static int run(int count, char **files)
{
    struct session session;
    struct uvk_wiring *wiring = NULL;
    GError *error = NULL;
    unsigned half;
    int status;

    (void)count;
    if (wishes.link && (wishes.only != NULL || wishes.chip != NULL)) {
        complain(wishes.only != NULL ? "--link asks for no keys: leave --only out"
                                     : "with --chip, type link when it asks: leave --link out");
        return STATUS_NOT_DONE;
    }
    if (wishes.chip != NULL) {
        return learn_board(&wishes.live, wishes.chip, files[0]);
    }
    if (!session_read_board(&session, &wishes.live, files[0], &status)) {
        return status;
    }
    listening_begins();
    session.probe_for = files[0];
    if (!probed_half(session.program->board, wishes.half, &half, &error) ||
        !session_find_probe(&session, &error)) {
        status = print_problem(error);
    } else {
        wiring = uvk_wiring_new(session.program->board, half);
        status = learn(&session, wiring, &error) ? conclude(wiring, &wishes, files[0])
                                                 : print_problem(error);
    }
    uvk_wiring_free(wiring);
    session_end(&session);
    return status;
}

const struct command command_wires = {
    "wires",
    "FILE",
    "Learn how a board is wired by pressing its keys, and correct its file.",
    "uvrek flash --probe boards/tidepad12.uvk && uvrek wires boards/tidepad12.uvk",
    options,
    1,
    run};
