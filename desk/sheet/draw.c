/* draw.c - a sheet as a file. */
#include "pictures.h"

#include "uvrek/sheet.h"

bool uvk_sheet_draw(const struct uvk_program *program, const struct uvk_sheet *sheet,
                    const char *path, GError **error)
{
    struct canvas *canvas = canvas_new();
    double width = 0;
    double height = 0;
    bool good;

    if (sheet->kind == UVK_SHEET_WIRING) {
        picture_wiring(program, canvas, &width, &height);
    } else if (sheet->kind == UVK_SHEET_CHOICES) {
        picture_choices(program, canvas, &width, &height);
    } else {
        picture_layers(program, canvas, sheet->layer, &width, &height);
    }
    good = canvas_write(canvas, width, height, sheet->dark, path, error);
    canvas_free(canvas);
    return good;
}
