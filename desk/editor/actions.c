/* actions.c - what can be done at a place: mistakes and doubts mended, a play drawn, a text
 * typed. */
#include "diagnostics.h"
#include "mentions.h"
#include "tree.h"

#include "uvrek/edit.h"

#include <string.h>

/* ---- mending ----------------------------------------------------------------------------- */

static char *title_of(const struct uvk_message *message)
{
    return message->mend == UVK_MEND_WORDS ? g_strdup_printf("Write '%s'", message->mend_text)
           : message->mend == UVK_MEND_ADD ? g_strdup_printf("Add '%s'", message->mend_text)
                                           : g_strdup("Remove this statement");
}

static json_t *edits_to_json(const struct uvk_editor *editor, const struct uvk_edits *edits)
{
    const char *text = uvk_edits_source(edits)->text;
    json_t *list = json_array();

    for (unsigned i = 0; i < uvk_edits_count(edits); i++) {
        const struct uvk_edit edit = uvk_edits_get(edits, i);
        (void)json_array_append_new(
            list, json_pack("{s:o, s:s}", "range",
                            range_to_json(text, edit.at, edit.length, editor->units), "newText",
                            edit.text));
    }
    return list;
}

/* NULL: nothing mends it for sure. */
static json_t *action_of(const struct uvk_editor *editor, const struct told *told)
{
    struct uvk_edits *edits = uvk_edits_new(told->source);
    json_t *action = NULL;

    if (uvk_edit_mend(edits, told->message, NULL)) {
        char *title = title_of(told->message);
        action =
            json_pack("{s:s, s:s, s:b, s:[o], s:{s:{s:o}}}", "title", title, "kind", "quickfix",
                      "isPreferred", 1, "diagnostics", diagnostic_of(editor, told), "edit",
                      "changes", told->uri, edits_to_json(editor, edits));
        g_free(title);
    }
    uvk_edits_free(edits);
    return action;
}

static bool touches(const struct uvk_place place, const struct range *range)
{
    return place.source != NULL && place.at <= range->end &&
           range->start <= (size_t)place.at + place.length;
}

static void add_mends(struct uvk_editor *editor, const struct range *range, json_t *actions)
{
    GArray *messages = all_messages(editor);

    for (guint i = 0; i < messages->len; i++) {
        const struct told *told = &g_array_index(messages, struct told, i);
        json_t *action =
            strcmp(told->uri, range->document->uri) == 0 && touches(told->message->place, range)
                ? action_of(editor, told)
                : NULL;
        if (action != NULL) {
            (void)json_array_append_new(actions, action);
        }
    }
    g_array_unref(messages);
}

/* ---- commands ---------------------------------------------------------------------------- */

/* ARGUMENTS is taken. */
static void add_command(json_t *actions, const char *title, const char *command,
                        json_t *arguments)
{
    (void)json_array_append_new(actions, json_pack("{s:s, s:{s:s, s:s, s:o}}", "title", title,
                                                   "command", "title", title, "command",
                                                   command, "arguments", arguments));
}

/* The name of a play stands in its statement. */
static bool stands_in(struct uvk_place name, struct uvk_place statement)
{
    return name.at >= statement.at && name.at < statement.at + statement.length;
}

/* Of the plays that touch the range each can be drawn. */
static void add_drawings(struct uvk_editor *editor, const struct range *range, json_t *actions)
{
    const struct uvk_program *program = whole_program(editor, range->document);
    const struct uvk_source *source = source_in(editor, program, range->document);
    struct tree tree;
    int number = 0;

    if (program->messages.errors > 0) {
        return;
    }
    tree_read(&tree, range->document);
    for (const struct uvk_play *play = program->plays; play != NULL;
         play = play->next, number++) {
        const struct uvk_node *at = play->place.source == source ? tree.root->child : NULL;
        while (at != NULL && !stands_in(play->place, whole_statement(at))) {
            at = at->next;
        }
        if (at != NULL && touches(whole_statement(at), range)) {
            add_command(actions, "Draw this play", COMMAND_DRAW,
                        json_pack("[s, i]", range->document->uri, number));
        }
    }
    tree_clear(&tree);
}

static void add_typing(const struct range *range, json_t *actions)
{
    size_t length = range->end - range->start;

    if (length > 0 && length <= TYPED_MOST) {
        add_command(actions, "Type this text", COMMAND_TYPE,
                    json_pack("[s, s%]", range->document->uri,
                              range->document->text->str + range->start, length));
    }
}

ANSWER(answer_actions)
{
    struct range range;
    json_t *actions;

    if (!range_from(editor, params, &range, failure)) {
        return NULL;
    }
    actions = json_array();
    add_mends(editor, &range, actions);
    if (editor->hooks.draw != NULL) {
        add_drawings(editor, &range, actions);
    }
    if (editor->hooks.type != NULL) {
        add_typing(&range, actions);
    }
    return actions;
}
