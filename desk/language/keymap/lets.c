/* lets.c - the keymap's own names for cells, as they are written. */
#include "reading.h"

#include "uvrek/explain.h"

#include <string.h>

static const struct own_name *own_at(const struct uvk_program *program, guint index)
{
    return &g_array_index(program->names, struct own_name, index);
}

const char *uvk_let_name(const struct uvk_program *program, unsigned index)
{
    for (guint i = 0; i < program->names->len; i++) {
        if (own_at(program, i)->kind == OWN_LET && index-- == 0) {
            return own_at(program, i)->name;
        }
    }
    return NULL;
}

/* The statement around the name at PLACE: its line, up to a comment. */
static char *statement_at(struct uvk_place place)
{
    const char *text = place.source->text;
    const char *start = text + place.at;
    const char *end = start + strcspn(start, "\n#;");

    while (start > text && start[-1] != '\n' && start[-1] != ';' && start[-1] != '{') {
        start--;
    }
    return g_strstrip(g_strndup(start, (gsize)(end - start)));
}

char *uvk_let_text(const struct uvk_program *program, const char *name, struct uvk_place *place)
{
    for (guint i = 0; i < program->names->len; i++) {
        const struct own_name *own = own_at(program, i);
        if (own->kind == OWN_LET && strcmp(own->name, name) == 0) {
            *place = own->place;
            return statement_at(own->place);
        }
    }
    return NULL;
}
