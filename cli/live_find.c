/* live_find.c - which keyboard is meant. */
#include "live.h"

#include <stdlib.h>
#include <string.h>

#define SERIAL_DIGITS 8u

bool session_lower(struct session *session)
{
    struct uvk_program *program = session->program;

    if (program->messages.errors == 0 && program->keymap != NULL) {
        session->bytes = uvk_lower(program, &session->size);
    }
    return session->bytes != NULL &&
           uvk_image_open(&session->wanted, session->bytes, session->size) == UVK_OK;
}

static void session_begin(struct session *session, const struct live_wishes *wishes,
                          const char *path)
{
    memset(session, 0, sizeof *session);
    session->wishes = wishes;
    session->path = path;
}

bool session_read_board(struct session *session, const struct live_wishes *wishes,
                        const char *path, int *status)
{
    session_begin(session, wishes, path);
    session->program = load_program(path, false, status);
    if (session->program != NULL && session->program->board == NULL) {
        complain("%s has no board", path);
        *status = STATUS_NOT_WELL;
        session_end(session);
    }
    return session->program != NULL;
}

bool session_read(struct session *session, const struct live_wishes *wishes, const char *path,
                  int *status)
{
    session_begin(session, wishes, path);
    *status = STATUS_WELL;
    if (path == NULL) {
        return true;
    }
    session->program = load_program(path, true, status);
    if (session->program == NULL) {
        return false;
    }
    if (!session_lower(session)) {
        print_messages(&session->program->messages);
        *status = STATUS_NOT_WELL;
        session_end(session);
        return false;
    }
    return true;
}

void session_end(struct session *session)
{
    uvk_live_close(session->live);
    g_free(session->bytes);
    if (session->program != NULL) {
        uvk_program_free(session->program);
    }
    memset(session, 0, sizeof *session);
}

/* A port, or an address with one: a bench. A number of a keyboard has eight digits. */
static const char *bench_of(const struct live_wishes *wishes)
{
    const char *at = wishes->at;
    bool digits = at != NULL && at[0] != '\0' && at[strspn(at, "0123456789")] == '\0';

    return at != NULL && (strchr(at, ':') != NULL || (digits && strlen(at) < SERIAL_DIGITS))
               ? at
               : NULL;
}

GPtrArray *keyboards_at(const struct live_wishes *wishes, GError **error)
{
    return uvk_live_list(bench_of(wishes), error);
}

GPtrArray *keyboards_of_board(const struct session *session)
{
    GPtrArray *list = keyboards_at(session->wishes, NULL);

    for (guint i = list != NULL ? list->len : 0; i > 0; i--) {
        const struct uvk_live_found *found = list->pdata[i - 1];
        if (!found->answers ||
            strcmp(found->facts.note.board, session->program->board->name) != 0) {
            g_ptr_array_remove_index(list, i - 1);
        }
    }
    return list != NULL ? list : g_ptr_array_new();
}

static bool has_serial(const struct uvk_live_found *found, const char *text)
{
    char serial[SERIAL_DIGITS + 1];

    g_snprintf(serial, sizeof serial, "%08X", found->facts.serial);
    return found->answers && g_ascii_strcasecmp(serial, text) == 0;
}

/* Is it the one that is asked for, or could it be, if nothing is said? */
static bool is_meant(const struct session *session, const struct uvk_live_found *found)
{
    const char *at = session->wishes->at;
    const struct uvk_board *board = session->program != NULL ? session->program->board : NULL;

    if (at != NULL && bench_of(session->wishes) == NULL) {
        return strcmp(found->name, at) == 0 || has_serial(found, at);
    }
    return board == NULL ||
           (found->vendor == board->usb_vendor && found->product == board->usb_product);
}

static bool fail(GError **error, const char *why)
{
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s", why);
    return false;
}

/* Which of several is meant has to be said. */
static bool tell_choice(const GPtrArray *meant, GError **error)
{
    GString *list = g_string_new(NULL);

    for (guint i = 0; i < meant->len; i++) {
        const struct uvk_live_found *found = meant->pdata[i];
        g_string_append_printf(list, "%s%s", i > 0 ? ", " : "",
                               found->answers ? "" : found->name);
        if (found->answers) {
            g_string_append_printf(list, "%08X", found->facts.serial);
        }
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "%u keyboards are here; say which one is meant by --at: %s", meant->len,
                list->str);
    g_string_free(list, TRUE);
    return false;
}

static bool tell_none(const struct session *session, const GPtrArray *list, GError **error)
{
    if (session->otherwise != NULL && session->wishes->at == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "no keyboard with a live door is here. %s: uvrek flash --probe %s",
                    session->otherwise, session->probe_for);
        return false;
    }
    if (list->len == 0 && session->program != NULL && session->program->keymap != NULL &&
        session->program->keymap->live_room == 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "no keyboard with a live door is here, and the keymap of %s does not say "
                    "`live { }`: write that into it, build and flash",
                    session->path);
        return false;
    }
    if (list->len == 0) {
        return fail(error, "no keyboard with a live door is here: is it plugged in, and does "
                           "its keymap say `live { }`?");
    }
    if (session->wishes->at != NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "none of the keyboards here is %s; `uvrek live` lists them",
                    session->wishes->at);
        return false;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "none of the %u keyboards with a live door here is a %s (USB %04x:%04x)",
                list->len, session->program->board->name, session->program->board->usb_vendor,
                session->program->board->usb_product);
    return false;
}

/* The text has to be of the board that the keyboard is. */
static bool is_of_its_board(const struct session *session, GError **error)
{
    const char *board = session->facts.note.board;

    if (session->program == NULL || strcmp(board, session->program->board->name) == 0) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the keyboard is a %s, %s is for a %s", board,
                session->path, session->program->board->name);
    return false;
}

bool session_take(struct session *session, const struct uvk_live_found *found, GError **error)
{
    session->live = uvk_live_open(bench_of(session->wishes), found->name, error);
    return session->live != NULL && uvk_live_who(session->live, &session->facts, error) &&
           is_of_its_board(session, error);
}

bool session_find(struct session *session, GError **error)
{
    GPtrArray *list = keyboards_at(session->wishes, error);
    GPtrArray *meant = g_ptr_array_new();
    bool good;

    for (guint i = 0; list != NULL && i < list->len; i++) {
        if (is_meant(session, list->pdata[i])) {
            g_ptr_array_add(meant, list->pdata[i]);
        }
    }
    good = list != NULL && (meant->len == 1   ? session_take(session, meant->pdata[0], error)
                            : meant->len == 0 ? tell_none(session, list, error)
                                              : tell_choice(meant, error));
    g_ptr_array_free(meant, TRUE);
    g_clear_pointer(&list, g_ptr_array_unref);
    return good;
}

bool probed_half(const struct uvk_board *board, const char *name, unsigned *half,
                 GError **error)
{
    for (*half = 0; *half < board->half_count; (*half)++) {
        if (uvk_one_controller(board) ||
            (name != NULL && strcmp(board->halves[*half].name, name) == 0)) {
            return true;
        }
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "a probe does not know which half it is in: say --half %s or --half %s",
                board->halves[0].name, board->halves[1].name);
    return false;
}

bool session_has_probe(const struct session *session)
{
    return (session->facts.features & UVK_PROBE_BIT) != 0;
}

bool session_find_probe(struct session *session, GError **error)
{
    session->otherwise = "Write the probe into it first";
    if (!session_find(session, error)) {
        return false;
    }
    if (!session_has_probe(session)) {
        g_set_error(
            error, UVK_PROBLEM, UVK_NOT_DONE,
            "the keyboard runs its keymap, which knows only the wires that its file names. "
            "Write the probe in its place, which watches all pins: uvrek flash --probe %s",
            session->probe_for);
        return false;
    }
    return true;
}
