/* canvas.c - shapes as SVG, written here so that its text stays text, or as PNG by cairo. */
#include "canvas.h"

#include "uvrek/firmware.h"
#include "uvrek/problem.h"

#include <pango/pangocairo.h>
#include <string.h>

#define FONT       "DejaVu Sans, sans-serif"
#define HATCH_STEP 6.0

enum shape_kind { SHAPE_BOX, SHAPE_LINE, SHAPE_CIRCLE, SHAPE_TEXT };

struct shape {
    enum shape_kind kind;
    double x, y, width, height; /* of a line: its end; of a circle: width is the radius */
    enum tone fill, line;
    double line_width, size;
    bool hatched, dashed, bold;
    enum anchor anchor;
    char *text;
};

struct canvas {
    GArray *shapes;
};

/* Tones that stay apart in black and white. */
static const struct {
    const char *name;
    double red, green, blue;
} tones[] = {
    [TONE_NONE] = {"none", 0, 0, 0},
    [TONE_PAPER] = {"#ffffff", 1, 1, 1},
    [TONE_PALE] = {"#e4e8ec", 0.894, 0.910, 0.925},
    [TONE_MIDDLE] = {"#8896a3", 0.533, 0.588, 0.639},
    [TONE_INK] = {"#1d2733", 0.114, 0.153, 0.200},
    [TONE_ACCENT] = {"#9a3412", 0.604, 0.204, 0.071},
};

struct canvas *canvas_new(void)
{
    struct canvas *canvas = g_new0(struct canvas, 1);

    canvas->shapes = g_array_new(FALSE, TRUE, sizeof(struct shape));
    return canvas;
}

void canvas_free(struct canvas *canvas)
{
    for (guint i = 0; i < canvas->shapes->len; i++) {
        g_free(g_array_index(canvas->shapes, struct shape, i).text);
    }
    g_array_free(canvas->shapes, TRUE);
    g_free(canvas);
}

void canvas_box(struct canvas *canvas, double x, double y, double width, double height,
                enum tone fill, enum tone line, bool hatched)
{
    struct shape shape = {.kind = SHAPE_BOX,
                          .x = x,
                          .y = y,
                          .width = width,
                          .height = height,
                          .fill = fill,
                          .line = line,
                          .line_width = 1,
                          .hatched = hatched};

    g_array_append_val(canvas->shapes, shape);
}

void canvas_line(struct canvas *canvas, double x1, double y1, double x2, double y2,
                 enum tone tone, double width, bool dashed)
{
    struct shape shape = {.kind = SHAPE_LINE,
                          .x = x1,
                          .y = y1,
                          .width = x2,
                          .height = y2,
                          .line = tone,
                          .line_width = width,
                          .dashed = dashed};

    g_array_append_val(canvas->shapes, shape);
}

void canvas_circle(struct canvas *canvas, double x, double y, double radius, enum tone fill,
                   enum tone line)
{
    struct shape shape = {.kind = SHAPE_CIRCLE,
                          .x = x,
                          .y = y,
                          .width = radius,
                          .fill = fill,
                          .line = line,
                          .line_width = 1.5};

    g_array_append_val(canvas->shapes, shape);
}

void canvas_text(struct canvas *canvas, double x, double y, double size, enum tone tone,
                 enum anchor anchor, bool bold, const char *text)
{
    struct shape shape = {.kind = SHAPE_TEXT,
                          .x = x,
                          .y = y,
                          .size = size,
                          .fill = tone,
                          .anchor = anchor,
                          .bold = bold,
                          .text = g_strdup(text)};

    g_array_append_val(canvas->shapes, shape);
}

/* ---- text ------------------------------------------------------------------------- */

static PangoLayout *layout_of(cairo_t *cairo, double size, bool bold, const char *text)
{
    PangoLayout *layout = pango_cairo_create_layout(cairo);
    PangoFontDescription *font = pango_font_description_from_string(FONT);

    pango_font_description_set_absolute_size(font, size * PANGO_SCALE);
    pango_font_description_set_weight(font, bold ? PANGO_WEIGHT_BOLD : PANGO_WEIGHT_NORMAL);
    pango_layout_set_font_description(layout, font);
    pango_layout_set_text(layout, text, -1);
    pango_font_description_free(font);
    return layout;
}

static double layout_width(PangoLayout *layout)
{
    int width;

    pango_layout_get_size(layout, &width, NULL);
    return (double)width / PANGO_SCALE;
}

double canvas_text_width(double size, bool bold, const char *text)
{
    cairo_surface_t *surface = cairo_image_surface_create(CAIRO_FORMAT_A8, 1, 1);
    cairo_t *cairo = cairo_create(surface);
    PangoLayout *layout = layout_of(cairo, size, bold, text);
    double width = layout_width(layout);

    g_object_unref(layout);
    cairo_destroy(cairo);
    cairo_surface_destroy(surface);
    return width;
}

/* ---- PNG -------------------------------------------------------------------------- */

static void set_tone(cairo_t *cairo, enum tone tone)
{
    cairo_set_source_rgb(cairo, tones[tone].red, tones[tone].green, tones[tone].blue);
}

static void paint(cairo_t *cairo, const struct shape *shape)
{
    if (shape->fill != TONE_NONE) {
        set_tone(cairo, shape->fill);
        cairo_fill_preserve(cairo);
    }
    if (shape->line != TONE_NONE) {
        set_tone(cairo, shape->line);
        cairo_set_line_width(cairo, shape->line_width);
        cairo_stroke_preserve(cairo);
    }
    cairo_new_path(cairo);
}

static void hatch(cairo_t *cairo, const struct shape *shape)
{
    cairo_save(cairo);
    cairo_rectangle(cairo, shape->x, shape->y, shape->width, shape->height);
    cairo_clip(cairo);
    set_tone(cairo, shape->line);
    cairo_set_line_width(cairo, 1.2);
    for (double x = -shape->height; x < shape->width; x += HATCH_STEP) {
        cairo_move_to(cairo, shape->x + x, shape->y + shape->height);
        cairo_line_to(cairo, shape->x + x + shape->height, shape->y);
    }
    cairo_stroke(cairo);
    cairo_restore(cairo);
}

static void draw_text(cairo_t *cairo, const struct shape *shape)
{
    static const double shift[] = {0, 0.5, 1};
    PangoLayout *layout = layout_of(cairo, shape->size, shape->bold, shape->text);
    double baseline = (double)pango_layout_get_baseline(layout) / PANGO_SCALE;

    set_tone(cairo, shape->fill);
    cairo_move_to(cairo, shape->x - shift[shape->anchor] * layout_width(layout),
                  shape->y - baseline);
    pango_cairo_show_layout(cairo, layout);
    g_object_unref(layout);
}

static void draw(cairo_t *cairo, const struct shape *shape)
{
    static const double dashes[] = {4, 3};

    cairo_new_path(cairo); /* text leaves a point behind */
    switch (shape->kind) {
    case SHAPE_BOX:
        cairo_rectangle(cairo, shape->x, shape->y, shape->width, shape->height);
        paint(cairo, shape);
        if (shape->hatched) {
            hatch(cairo, shape);
        }
        break;
    case SHAPE_LINE:
        cairo_set_dash(cairo, dashes, shape->dashed ? 2 : 0, 0);
        cairo_move_to(cairo, shape->x, shape->y);
        cairo_line_to(cairo, shape->width, shape->height);
        paint(cairo, shape);
        cairo_set_dash(cairo, NULL, 0, 0);
        break;
    case SHAPE_CIRCLE:
        cairo_arc(cairo, shape->x, shape->y, shape->width, 0, 2 * G_PI);
        paint(cairo, shape);
        break;
    case SHAPE_TEXT:
        draw_text(cairo, shape);
        break;
    }
}

static cairo_status_t append_bytes(void *out, const unsigned char *bytes, unsigned size)
{
    g_byte_array_append(out, bytes, size);
    return CAIRO_STATUS_SUCCESS;
}

static bool write_png(const struct canvas *canvas, double width, double height,
                      const char *path, GError **error)
{
    cairo_surface_t *surface =
        cairo_image_surface_create(CAIRO_FORMAT_RGB24, (int)width, (int)height);
    cairo_t *cairo = cairo_create(surface);
    GByteArray *bytes = g_byte_array_new();
    cairo_status_t status;
    bool well;

    set_tone(cairo, TONE_PAPER);
    cairo_paint(cairo);
    for (guint i = 0; i < canvas->shapes->len; i++) {
        draw(cairo, &g_array_index(canvas->shapes, struct shape, i));
    }
    status = cairo_surface_write_to_png_stream(surface, append_bytes, bytes);
    if (status != CAIRO_STATUS_SUCCESS) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot draw %s: %s", path,
                    cairo_status_to_string(status));
    }
    well =
        status == CAIRO_STATUS_SUCCESS && uvk_file_write(path, bytes->data, bytes->len, error);
    g_byte_array_free(bytes, TRUE);
    cairo_destroy(cairo);
    cairo_surface_destroy(surface);
    return well;
}

/* ---- SVG -------------------------------------------------------------------------- */

static void append_numbers(GString *out, const char *const *names, const double *values,
                           size_t count)
{
    for (size_t i = 0; i < count; i++) {
        char number[G_ASCII_DTOSTR_BUF_SIZE];
        g_ascii_formatd(number, sizeof number, "%.2f", values[i]);
        g_string_append_printf(out, " %s=\"%s\"", names[i], number);
    }
}

static void svg_box(GString *out, const struct shape *shape, const char *fill)
{
    static const char *const names[] = {"x", "y", "width", "height"};
    const double values[] = {shape->x, shape->y, shape->width, shape->height};

    g_string_append(out, "<rect");
    append_numbers(out, names, values, 4);
    g_string_append_printf(out, " fill=\"%s\" stroke=\"%s\"/>\n", fill,
                           tones[shape->line].name);
}

static void svg_line(GString *out, const struct shape *shape)
{
    static const char *const names[] = {"x1", "y1", "x2", "y2", "stroke-width"};
    const double values[] = {shape->x, shape->y, shape->width, shape->height,
                             shape->line_width};

    g_string_append(out, "<line");
    append_numbers(out, names, values, 5);
    g_string_append_printf(out, " stroke=\"%s\"%s/>\n", tones[shape->line].name,
                           shape->dashed ? " stroke-dasharray=\"4 3\"" : "");
}

static void svg_circle(GString *out, const struct shape *shape)
{
    static const char *const names[] = {"cx", "cy", "r", "stroke-width"};
    const double values[] = {shape->x, shape->y, shape->width, shape->line_width};

    g_string_append(out, "<circle");
    append_numbers(out, names, values, 4);
    g_string_append_printf(out, " fill=\"%s\" stroke=\"%s\"/>\n", tones[shape->fill].name,
                           tones[shape->line].name);
}

static void svg_text(GString *out, const struct shape *shape)
{
    static const char *const anchors[] = {"start", "middle", "end"};
    static const char *const names[] = {"x", "y", "font-size"};
    const double values[] = {shape->x, shape->y, shape->size};
    char *text = g_markup_escape_text(shape->text, -1);

    g_string_append(out, "<text");
    append_numbers(out, names, values, 3);
    g_string_append_printf(out, " fill=\"%s\" text-anchor=\"%s\"%s>%s</text>\n",
                           tones[shape->fill].name, anchors[shape->anchor],
                           shape->bold ? " font-weight=\"bold\"" : "", text);
    g_free(text);
}

static void svg_shape(GString *out, const struct shape *shape)
{
    switch (shape->kind) {
    case SHAPE_BOX:
        svg_box(out, shape, tones[shape->fill].name);
        if (shape->hatched) {
            svg_box(out, shape, "url(#hatch)");
        }
        break;
    case SHAPE_LINE:
        svg_line(out, shape);
        break;
    case SHAPE_CIRCLE:
        svg_circle(out, shape);
        break;
    case SHAPE_TEXT:
        svg_text(out, shape);
        break;
    }
}

static bool write_svg(const struct canvas *canvas, double width, double height,
                      const char *path, GError **error)
{
    GString *out = g_string_new(NULL);
    bool well;

    g_string_printf(out,
                    "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%d\" height=\"%d\" "
                    "viewBox=\"0 0 %d %d\" font-family=\"%s\">\n"
                    "<defs><pattern id=\"hatch\" width=\"6\" height=\"6\" "
                    "patternUnits=\"userSpaceOnUse\" patternTransform=\"rotate(45)\">"
                    "<line x1=\"0\" y1=\"0\" x2=\"0\" y2=\"6\" stroke=\"%s\" "
                    "stroke-width=\"2\"/></pattern></defs>\n"
                    "<rect width=\"100%%\" height=\"100%%\" fill=\"%s\"/>\n",
                    (int)width, (int)height, (int)width, (int)height, FONT,
                    tones[TONE_INK].name, tones[TONE_PAPER].name);
    for (guint i = 0; i < canvas->shapes->len; i++) {
        svg_shape(out, &g_array_index(canvas->shapes, struct shape, i));
    }
    g_string_append(out, "</svg>\n");
    well = uvk_file_write(path, out->str, out->len, error);
    g_string_free(out, TRUE);
    return well;
}

bool canvas_write(const struct canvas *canvas, double width, double height, const char *path,
                  GError **error)
{
    if (g_str_has_suffix(path, ".svg")) {
        return write_svg(canvas, width, height, path, error);
    }
    if (g_str_has_suffix(path, ".png")) {
        return write_png(canvas, width, height, path, error);
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "a picture is an .svg or a .png, this is neither: %s", path);
    return false;
}
