/* live_push.c - what the text says and the keyboard does not do: told, and made so. */
#include "live.h"

#include "uvrek/files.h"

#include <stdio.h>

/* Find, open, read; the differences, and into *LIVE those that the keyboard has since it was
 * built. NULL: *ERROR. */
static GPtrArray *differences_of(struct session *session, GPtrArray **live, GError **error)
{
    const struct uvk_image *built;
    const struct uvk_image *image;

    if (!session_find(session, error) || !session_open(session, error)) {
        return NULL;
    }
    image = uvk_live_image(session->live, error);
    built = image != NULL ? uvk_live_built(session->live, error) : NULL;
    if (built == NULL) {
        return NULL;
    }
    *live = uvk_live_differences(session->program, image, &session->wanted, built);
    return uvk_live_differences(session->program, image, &session->wanted, NULL);
}

enum way { TOLD, PUSHED, PULLED };

static void print_result(const struct session *session, const GPtrArray *differences,
                         const GPtrArray *live, enum way way, unsigned needed)
{
    char *name = keyboard_text(&session->facts);

    if (session->wishes->as_json) {
        json_t *json = json_object();
        put_text(json, "keyboard", name);
        differences_to_json(json, differences, live);
        if (way == PUSHED) {
            put_number(json, "used", needed);
            put_number(json, "room", session->facts.room);
        }
        print_json(json);
    } else if (differences->len == 0) {
        printf("%s does what %s says\n", name, session->path);
    } else {
        print_differences(differences, "keyboard", "text", live);
        if (way == PULLED) {
            printf("%s says now what the keyboard does\n", session->path);
        } else if (way == PUSHED) {
            printf("%s does so now, and keeps it: %u of %u bytes of its room\n", name, needed,
                   session->facts.room);
        }
    }
    g_free(name);
}

int live_diff(const struct live_wishes *wishes, int count, char **words)
{
    struct session session;
    GError *error = NULL;
    GPtrArray *differences;
    GPtrArray *live = NULL;
    int status;

    (void)count;
    if (!session_read(&session, wishes, words[0], &status)) {
        return status;
    }
    differences = differences_of(&session, &live, &error);
    if (differences == NULL) {
        status = print_problem(error);
    } else {
        print_result(&session, differences, live, TOLD, 0);
        status = differences->len > 0 ? STATUS_NOT_WELL : STATUS_WELL;
        g_ptr_array_unref(differences);
    }
    g_clear_pointer(&live, g_ptr_array_unref);
    session_end(&session);
    return status;
}

int live_push(const struct live_wishes *wishes, int count, char **words)
{
    struct session session;
    GError *error = NULL;
    GPtrArray *differences;
    GPtrArray *live = NULL;
    unsigned needed = 0;
    int status;

    (void)count;
    if (!session_read(&session, wishes, words[0], &status)) {
        return status;
    }
    differences = differences_of(&session, &live, &error);
    if (differences == NULL ||
        (differences->len > 0 &&
         (!uvk_live_change(session.live, &session.wanted, &needed, &error) ||
          !uvk_live_is_kept(session.live, &error)))) {
        status = print_problem(error);
    } else {
        print_result(&session, differences, live, PUSHED, needed);
    }
    g_clear_pointer(&live, g_ptr_array_unref);
    g_clear_pointer(&differences, g_ptr_array_unref);
    session_end(&session);
    return status;
}

int live_forget(const struct live_wishes *wishes, int count, char **words)
{
    struct session session;
    GError *error = NULL;
    char *name;
    int status;

    if (!session_read(&session, wishes, count > 0 ? words[0] : NULL, &status)) {
        return status;
    }
    if (!session_find(&session, &error) || !session_open(&session, &error) ||
        !uvk_live_forget(session.live, &error) || !uvk_live_is_kept(session.live, &error)) {
        status = print_problem(error);
    } else {
        name = keyboard_text(&session.facts);
        printf("%s does again what was built into it\n", name);
        g_free(name);
    }
    session_end(&session);
    return status;
}

/* ---- the other way ---------------------------------------------------------------------- */

int live_pull(const struct live_wishes *wishes, int count, char **words)
{
    struct session session;
    GError *error = NULL;
    GPtrArray *differences;
    GPtrArray *live = NULL;
    const struct uvk_image *image;
    size_t size;
    char *text = NULL;
    int status;

    (void)count;
    if (!session_read(&session, wishes, words[0], &status)) {
        return status;
    }
    differences = differences_of(&session, &live, &error);
    image = differences != NULL ? uvk_live_image(session.live, &error) : NULL;
    if (image != NULL && differences->len > 0) {
        text = uvk_live_pull(session.program, image, NULL, &size, &error);
    }
    if (image == NULL ||
        (differences->len > 0 &&
         (text == NULL || !uvk_file_write(session.path, text, size, &error)))) {
        status = print_problem(error);
    } else {
        print_result(&session, differences, live, PULLED, 0);
    }
    g_free(text);
    g_clear_pointer(&live, g_ptr_array_unref);
    g_clear_pointer(&differences, g_ptr_array_unref);
    session_end(&session);
    return status;
}
