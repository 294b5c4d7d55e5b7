/* no_pictures.c - in the place of sheets, where cairo and pango are not there. */
#include "uvrek/sheet.h"

bool uvk_timeline_draw(const struct uvk_program *program, const struct uvk_outcome *outcome,
                       const char *path, GError **error)
{
    (void)program;
    (void)outcome;
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "cannot draw %s: this uvrek was built without cairo and pango", path);
    return false;
}

bool uvk_film_draw(const struct uvk_program *program, const struct uvk_outcome *outcome,
                   const char *path, GError **error)
{
    return uvk_timeline_draw(program, outcome, path, error);
}

bool uvk_sheet_draw(const struct uvk_program *program, const struct uvk_sheet *sheet,
                    const char *path, GError **error)
{
    (void)program;
    (void)sheet;
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "cannot draw %s: this uvrek was built without cairo and pango", path);
    return false;
}
