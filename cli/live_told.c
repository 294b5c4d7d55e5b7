/* live_told.c - keyboards that are here, and differences, in words. */
#include "live.h"

#include <stdio.h>
#include <string.h>

char *keyboard_text(const struct uvk_live_facts *facts)
{
    return g_strdup_printf("%s %08X", facts->note.board, facts->serial);
}

/* ---- differences ------------------------------------------------------------------------- */

/* Where has it been changed since the build? LIVE: what the keyboard has beyond that, NULL: it
 * is not asked. */
static const char *changed_in(const struct uvk_difference *difference, const GPtrArray *live)
{
    for (guint i = 0; live != NULL && i < live->len; i++) {
        if (strcmp(((struct uvk_difference *)live->pdata[i])->where, difference->where) == 0) {
            return "keyboard";
        }
    }
    return live != NULL ? "text" : NULL;
}

void print_differences(const GPtrArray *differences, const char *from, const char *to,
                       const GPtrArray *live)
{
    if (differences->len > 0) {
        printf("%u difference%s, %s -> %s:\n", differences->len,
               differences->len == 1 ? "" : "s", from, to);
    }
    for (guint i = 0; i < differences->len; i++) {
        const struct uvk_difference *difference = differences->pdata[i];
        const char *where = changed_in(difference, live);
        printf("  %s: %s -> %s%s%s%s\n", difference->where,
               difference->before != NULL ? difference->before : "(none)",
               difference->after != NULL ? difference->after : "(none)",
               where != NULL ? "  (changed in the " : "", where != NULL ? where : "",
               where != NULL ? ")" : "");
    }
}

void differences_to_json(json_t *json, const GPtrArray *differences, const GPtrArray *live)
{
    json_t *list = put_list(json, "differences");

    for (guint i = 0; i < differences->len; i++) {
        const struct uvk_difference *difference = differences->pdata[i];
        json_t *object = add_object(list);
        put_text(object, "where", difference->where);
        put_text(object, "before", difference->before);
        put_text(object, "after", difference->after);
        if (live != NULL) {
            put_text(object, "changed-in", changed_in(difference, live));
        }
    }
}

/* ---- the list ---------------------------------------------------------------------------- */

/* Through an open door the keyboard is read. NULL: it is closed, or cannot be read. */
static const char *compared_by_reading(const struct session *session,
                                       const struct uvk_live_found *found)
{
    struct session reading = {.wishes = session->wishes, .program = session->program};
    const struct uvk_image *image = NULL;
    const char *told = NULL;

    if (found->facts.door == UVK_DOOR_IS_OPEN && session_take(&reading, found, NULL)) {
        image = uvk_live_image(reading.live, NULL);
    }
    if (image != NULL) {
        told = !uvk_same_image(image, &session->wanted)
                   ? "it does something else than the file says; `uvrek live diff` says what"
               : found->facts.sum == 0 ? "it does what the file says"
                                       : "it does what the file says, by changes that it keeps";
    }
    uvk_live_close(reading.live);
    return told;
}

/* Through a closed one, a sum has to do. */
static const char *compared_by_sum(const struct session *session,
                                   const struct uvk_live_facts *facts)
{
    static struct uvk_changes changes;
    bool changed = facts->sum != 0;

    uvk_changes_clear(&changes, session->bytes);
    if (changes.base != facts->base) {
        return changed ? "it was built from another text, and changed since; `uvrek live diff` "
                         "says whether it does what the file says"
                       : "it was built from another text; `uvrek live diff` says what differs";
    }
    return changed ? "it was changed since it was built from the file; `uvrek live diff` says "
                     "what differs"
                   : "it does what the file says";
}

/* Is it what the text says? */
static const char *compared(const struct session *session, const struct uvk_live_found *found)
{
    const char *told;

    if (session->program == NULL || !found->answers) {
        return NULL;
    }
    if (strcmp(found->facts.note.board, session->program->board->name) != 0) {
        return "another board than the file's";
    }
    told = compared_by_reading(session, found);
    return told != NULL ? told : compared_by_sum(session, &found->facts);
}

static void print_halves(const struct uvk_live_facts *facts)
{
    if (facts->is_half) {
        printf("  this is the %s half; the other one %s\n",
               facts->is_second ? "second" : "first",
               facts->has_other ? "answers" : "does not answer");
    }
}

static void print_found(const struct session *session, const struct uvk_live_found *found)
{
    const struct uvk_live_facts *facts = &found->facts;
    const char *same = compared(session, found);

    if (!found->answers) {
        char *why = uvk_visible_text(found->why != NULL ? found->why : "");
        printf("%s  %s\n  %s\n", found->name, found->title != NULL ? found->title : "", why);
        g_free(why);
        return;
    }
    printf("%08X  %s (%s), at %s\n", facts->serial, facts->note.board, facts->note.chip,
           found->name);
    printf("  keymap %s, built by uvrek %s; the door is %s\n", facts->note.keymap,
           facts->note.version, facts->door == UVK_DOOR_IS_OPEN ? "open" : "closed");
    printf("  %s; %u of %u bytes of its room for changes are used\n",
           facts->sum == 0 ? "nothing was changed since" : "it was changed since", facts->used,
           facts->room);
    if (facts->keeps_other) {
        puts("  it keeps changes of another firmware, which are not in force");
    }
    print_halves(facts);
    if (same != NULL) {
        printf("  %s: %s\n", session->path, same);
    }
}

static void found_to_json(json_t *list, const struct session *session,
                          const struct uvk_live_found *found)
{
    const struct uvk_live_facts *facts = &found->facts;
    json_t *object = add_object(list);
    char serial[9];

    put_text(object, "at", found->name);
    put_text(object, "title", found->title);
    put_text(object, "problem", found->answers ? NULL : found->why);
    if (!found->answers) {
        return;
    }
    g_snprintf(serial, sizeof serial, "%08X", facts->serial);
    put_text(object, "number", serial);
    put_text(object, "board", facts->note.board);
    put_text(object, "chip", facts->note.chip);
    put_text(object, "keymap", facts->note.keymap);
    put_text(object, "built-by", facts->note.version);
    put_flag(object, "open", facts->door == UVK_DOOR_IS_OPEN);
    put_flag(object, "changed", facts->sum != 0);
    put_number(object, "room", facts->room);
    put_number(object, "used", facts->used);
    put_text(object, "file", compared(session, found));
}

/* ---- for those who look at more than the live door -------------------------------------- */

void print_live(const char *path, const char *at, json_t *json)
{
    const struct live_wishes wishes = {.at = (char *)at};
    json_t *objects = json != NULL ? put_list(json, "live") : NULL;
    struct session session;
    GPtrArray *list;
    int status;

    if (!session_read(&session, &wishes, path, &status)) {
        return;
    }
    list = keyboards_of_board(&session);
    for (guint i = 0; i < list->len; i++) {
        if (json != NULL) {
            found_to_json(objects, &session, list->pdata[i]);
        } else {
            print_found(&session, list->pdata[i]);
        }
    }
    if (json == NULL && list->len > 0) {
        putchar('\n');
    }
    g_ptr_array_unref(list);
    session_end(&session);
}

int live_list(const struct live_wishes *wishes, int count, char **words)
{
    struct session session;
    GError *error = NULL;
    GPtrArray *list;
    json_t *json;
    int status;

    if (!session_read(&session, wishes, count > 0 ? words[0] : NULL, &status)) {
        return status;
    }
    list = keyboards_at(wishes, &error);
    if (list == NULL) {
        session_end(&session);
        return print_problem(error);
    }
    json = json_object();
    for (guint i = 0; i < list->len; i++) {
        if (wishes->as_json) {
            found_to_json(i == 0 ? put_list(json, "keyboards")
                                 : json_object_get(json, "keyboards"),
                          &session, list->pdata[i]);
        } else {
            print_found(&session, list->pdata[i]);
        }
    }
    if (wishes->as_json) {
        if (list->len == 0) {
            (void)put_list(json, "keyboards");
        }
        print_json(json_incref(json));
    } else if (list->len == 0) {
        puts("no keyboard with a live door is here");
    }
    json_decref(json);
    g_ptr_array_unref(list);
    session_end(&session);
    return STATUS_WELL;
}
