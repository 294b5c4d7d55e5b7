/* edit.c - what is shown, chosen and typed in `uvrek live edit`. */
#include "edit.h"

#include <stdarg.h>
#include <string.h>

void editor_tell(struct editor *editor, const char *format, ...)
{
    va_list arguments;

    g_free(editor->told);
    va_start(arguments, format);
    editor->told = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    g_strdelimit(editor->told, "\n", ' ');
}

bool editor_is_search(const struct editor *editor)
{
    return editor->typed->str[0] == '?';
}

void editor_look(struct editor *editor)
{
    g_clear_pointer(&editor->places, g_array_unref);
    editor->picked = 0;
    if (editor_is_search(editor)) {
        editor->places = offers_where(editor->offers, editor->typed->str + 1);
        editor->found = editor->typed->len > 1 ? editor->places->len : 0;
    } else {
        editor->found = offers_find(editor->offers, editor->typed->str);
    }
}

void editor_forget(struct editor *editor)
{
    g_string_truncate(editor->typed, 0);
    editor_look(editor);
}

void editor_choose(struct editor *editor, unsigned layer, unsigned cell)
{
    editor->layer = layer;
    editor->cell = cell;
    editor_forget(editor);
}
