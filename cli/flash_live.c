/* flash_live.c - what was changed in the running keyboard since it was built does not get lost
 * by `uvrek flash`: it stays, or goes into the text first, or somebody has said that it may go.
 */
#include "flashing.h"
#include "live.h"

#include "uvrek/files.h"

#include <stdio.h>
#include <string.h>
#include <unistd.h>

static bool fail(GError **error, const char *why)
{
    g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, why);
    return false;
}

/* The keyboard of this board that does something else than what was built into it; NULL: none,
 * or *ERROR. */
static const struct uvk_live_found *changed_one(const GPtrArray *list, GError **error)
{
    const struct uvk_live_found *one = NULL;

    for (guint i = 0; i < list->len; i++) {
        const struct uvk_live_found *found = list->pdata[i];
        if (found->facts.sum == 0) {
            continue;
        }
        if (one != NULL) {
            (void)fail(error, "several keyboards of this board are here, and were changed live "
                              "since they were built: unplug all but the one that is meant, "
                              "or give --live-changes drop");
            return NULL;
        }
        one = found;
    }
    return one;
}

static void tell(const struct wishes *wishes, const struct session *session, const char *words)
{
    char *name = keyboard_text(&session->facts);
    char *text = g_strdup_printf("%s was changed live since it was built: %s", name, words);

    show_happening(wishes, "changes", NULL, text);
    g_free(text);
    g_free(name);
}

/* ---- into the text ---------------------------------------------------------------------- */

/* What to do about changes that the text does not say: asked, where somebody can answer. */
static bool is_to_keep(const struct wishes *wishes, const char *path, GError **error)
{
    char answer[16] = "";

    if (wishes->changes != NULL) {
        return true;
    }
    if (isatty(STDIN_FILENO) && !wishes->as_json) {
        printf("Write this into %s before it is flashed? [y/n] ", path);
        (void)fflush(stdout);
        if (fgets(answer, sizeof answer, stdin) != NULL && (*answer == 'y' || *answer == 'Y')) {
            return true;
        }
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "nothing was flashed: %s does not say what was changed live. --live-changes "
                "keep writes it into the text first, --live-changes drop lets it go",
                path);
    return false;
}

static bool has_its_places(const struct session *session, const struct uvk_image *image,
                           GError **error)
{
    return (session->wanted.layers == image->layers && session->wanted.keys == image->keys) ||
           fail(error, "nothing was flashed: the text has other layers or keys than the "
                       "keyboard, so that what was changed live cannot be written into it. "
                       "Write it there yourself, and give --live-changes drop");
}

static bool write_text(const struct session *session, const struct uvk_image *image,
                       const struct uvk_image *since, GError **error)
{
    size_t size;
    char *text = uvk_live_pull(session->program, image, since, &size, error);
    bool good = text != NULL && uvk_file_write(session->path, text, size, error);

    g_free(text);
    return good;
}

/* The differences that would be lost are told, and written into the text; *WRITTEN then. */
static bool keep(struct session *session, const struct wishes *wishes, bool *written,
                 GError **error)
{
    const struct uvk_image *image = uvk_live_image(session->live, error);
    const struct uvk_image *built = image != NULL ? uvk_live_built(session->live, error) : NULL;
    GPtrArray *lost;
    bool good = true;

    if (built == NULL) {
        return false;
    }
    lost = uvk_live_differences(session->program, image, &session->wanted, built);
    if (lost->len == 0) {
        tell(wishes, session, "the text says all of it");
    } else {
        tell(wishes, session, "the text does not say all of it");
        if (!wishes->as_json) {
            print_differences(lost, "keyboard", "text", NULL);
        }
        good = has_its_places(session, image, error) &&
               is_to_keep(wishes, session->path, error) &&
               write_text(session, image, built, error);
        *written = good;
    }
    g_ptr_array_unref(lost);
    if (*written) {
        tell(wishes, session, "the text says all of it now");
    }
    return good;
}

/* ---- into the bootloader ---------------------------------------------------------------- */

#define LEAVE_MS 3000u
#define LOOK_MS  50u

static bool is_here(const struct session *session, const char *name)
{
    GPtrArray *list = uvk_usb_devices(session->wishes->at, NULL);
    bool here = false;

    for (guint i = 0; list != NULL && i < list->len; i++) {
        here = here || strcmp(((struct uvk_usb_device *)list->pdata[i])->name, name) == 0;
    }
    g_clear_pointer(&list, g_ptr_array_unref);
    return here;
}

/* The door is open: nobody has to press a button. The keyboard is awaited to be gone, so that
 * its bootloader is not looked for too early. */
static bool leave(struct session *session, const char *name, GError **error)
{
    bool good = uvk_live_restart(session->live, true, error);

    g_clear_pointer(&session->live, uvk_live_close);
    for (unsigned ms = 0; good && ms < LEAVE_MS && is_here(session, name); ms += LOOK_MS) {
        g_usleep(LOOK_MS * 1000UL);
    }
    return good;
}

/* ---- what is to be done ----------------------------------------------------------------- */

/* The firmware that is to come has the same keymap built in, so that what is kept stays right.
 */
static bool stays(const struct session *session, const struct uvk_live_facts *facts)
{
    static struct uvk_changes changes;

    uvk_changes_clear(&changes, session->bytes);
    return changes.base == facts->base;
}

static bool look_at(struct session *session, const struct uvk_live_found *found,
                    const struct wishes *wishes, bool *written, GError **error)
{
    session->facts = found->facts;
    if (stays(session, &found->facts)) {
        tell(wishes, session,
             "that stays in force, as the same keymap is built in again; `uvrek live pull` "
             "writes it into the text, `uvrek live forget` drops it");
        return true;
    }
    if (wishes->changes != NULL && strcmp(wishes->changes, "drop") == 0) {
        tell(wishes, session, "that goes, as it was asked for");
        return true;
    }
    return session_take(session, found, error) && session_open(session, error) &&
           keep(session, wishes, written, error) && leave(session, found->name, error);
}

bool rescue_changes(const char *path, const struct wishes *wishes, bool *written, int *status)
{
    const struct live_wishes which = {.at = (char *)wishes->flash.usbip};
    struct session session;
    GError *error = NULL;
    GPtrArray *list;
    const struct uvk_live_found *found;

    *written = false;
    if (!session_read(&session, &which, path, status)) {
        return false;
    }
    list = keyboards_of_board(&session);
    found = changed_one(list, &error);
    if (error != NULL ||
        (found != NULL && !look_at(&session, found, wishes, written, &error))) {
        *status = print_problem(error);
    }
    session_end(&session);
    g_ptr_array_unref(list);
    return *status == STATUS_WELL;
}
