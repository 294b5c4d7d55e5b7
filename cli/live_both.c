/* live_both.c - a new text, in the file and in the keyboard: both, or neither. */
#include "live.h"

#include "uvrek/files.h"

#include <string.h>

bool session_of_text(struct session *next, const char *path, const char *text, size_t size)
{
    memset(next, 0, sizeof *next);
    next->path = path;
    next->program = uvk_program_read(path, text, size);
    return session_lower(next);
}

bool both_become(struct session *session, const struct session *next, const char *text,
                 size_t size, unsigned *needed, GError **error)
{
    GError *again = NULL;
    unsigned ignored;

    if (!uvk_live_change(session->live, &next->wanted, needed, error)) {
        return false;
    }
    if (!uvk_file_write(session->path, text, size, error)) {
        (void)uvk_live_change(session->live, &session->wanted, &ignored, &again);
        g_clear_error(&again);
        return false;
    }
    return uvk_live_is_kept(session->live, error);
}
