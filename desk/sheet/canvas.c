/* canvas.c - shapes as SVG, written here so that its text stays text, or by cairo as PNG and
 * PDF. */
#include "canvas.h"

#include "uvrek/files.h"
#include "uvrek/problem.h"

#include <cairo-pdf.h>
#include <math.h>
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
    bool coloured; /* COLOUR instead of FILL */
    unsigned colour;
    enum anchor anchor;
    double radius;                 /* of a box' corners */
    double turn, about_x, about_y; /* degrees clockwise, and about what */
    char *text;
};

struct canvas {
    GArray *shapes;
    double turn, about_x, about_y; /* of the shapes that are added */
};

struct tone_colour {
    const char *name;
    double red, green, blue;
};

/* Tones that stay apart in black and white. */
static const struct tone_colour dark_tones[] = {
    [TONE_NONE] = {"none", 0, 0, 0},
    [TONE_PAPER] = {"#14191f", 0.078, 0.098, 0.122},
    [TONE_PALE] = {"#2c3641", 0.173, 0.212, 0.255},
    [TONE_MIDDLE] = {"#8896a3", 0.533, 0.588, 0.639},
    [TONE_INK] = {"#eef2f5", 0.933, 0.949, 0.961},
    [TONE_ACCENT] = {"#ffb38a", 1, 0.702, 0.541},
};
static const struct tone_colour light_tones[] = {
    [TONE_NONE] = {"none", 0, 0, 0},
    [TONE_PAPER] = {"#ffffff", 1, 1, 1},
    [TONE_PALE] = {"#e4e8ec", 0.894, 0.910, 0.925},
    [TONE_MIDDLE] = {"#8896a3", 0.533, 0.588, 0.639},
    [TONE_INK] = {"#1d2733", 0.114, 0.153, 0.200},
    [TONE_ACCENT] = {"#9a3412", 0.604, 0.204, 0.071},
};

/* Add SHAPE, turned as the canvas is just now. */
static void add(struct canvas *canvas, struct shape shape)
{
    shape.turn = canvas->turn;
    shape.about_x = canvas->about_x;
    shape.about_y = canvas->about_y;
    g_array_append_val(canvas->shapes, shape);
}

void canvas_turn(struct canvas *canvas, double degrees, double x, double y)
{
    canvas->turn = degrees;
    canvas->about_x = x;
    canvas->about_y = y;
}

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

    add(canvas, shape);
}

void canvas_cap(struct canvas *canvas, double x, double y, double width, double height,
                double radius, enum tone fill, enum tone line)
{
    struct shape shape = {.kind = SHAPE_BOX,
                          .x = x,
                          .y = y,
                          .width = width,
                          .height = height,
                          .radius = radius,
                          .fill = fill,
                          .line = line,
                          .line_width = 1.2};

    add(canvas, shape);
}

void canvas_colour(struct canvas *canvas, unsigned colour)
{
    struct shape *last = &g_array_index(canvas->shapes, struct shape, canvas->shapes->len - 1);

    last->coloured = true;
    last->colour = colour;
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

    add(canvas, shape);
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

    add(canvas, shape);
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

    add(canvas, shape);
}

/* ---- text ------------------------------------------------------------------------- */

/* Letters stand where they are, not on whole pixels: turned keys would make them dance. */
static void place_freely(PangoLayout *layout)
{
    PangoContext *context = pango_layout_get_context(layout);
    cairo_font_options_t *options = cairo_font_options_create();

    cairo_font_options_set_hint_style(options, CAIRO_HINT_STYLE_NONE);
    cairo_font_options_set_hint_metrics(options, CAIRO_HINT_METRICS_OFF);
    pango_cairo_context_set_font_options(context, options);
    pango_context_set_round_glyph_positions(context, FALSE);
    pango_layout_context_changed(layout);
    cairo_font_options_destroy(options);
}

static PangoLayout *layout_of(cairo_t *cairo, double size, bool bold, const char *text)
{
    PangoLayout *layout = pango_cairo_create_layout(cairo);
    PangoFontDescription *font = pango_font_description_from_string(FONT);

    place_freely(layout);
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

/* Where shapes are drawn to. */
struct brush {
    cairo_t *cairo;
    const struct tone_colour *tones;
};

static void set_tone(const struct brush *brush, enum tone tone)
{
    cairo_set_source_rgb(brush->cairo, brush->tones[tone].red, brush->tones[tone].green,
                         brush->tones[tone].blue);
}

static void paint(const struct brush *brush, const struct shape *shape)
{
    if (shape->coloured) {
        cairo_set_source_rgb(brush->cairo, (shape->colour >> 16 & 0xFFu) / 255.0,
                             (shape->colour >> 8 & 0xFFu) / 255.0,
                             (shape->colour & 0xFFu) / 255.0);
        cairo_fill_preserve(brush->cairo);
    } else if (shape->fill != TONE_NONE) {
        set_tone(brush, shape->fill);
        cairo_fill_preserve(brush->cairo);
    }
    if (shape->line != TONE_NONE) {
        set_tone(brush, shape->line);
        cairo_set_line_width(brush->cairo, shape->line_width);
        cairo_stroke_preserve(brush->cairo);
    }
    cairo_new_path(brush->cairo);
}

static void hatch(const struct brush *brush, const struct shape *shape)
{
    cairo_t *cairo = brush->cairo;

    cairo_save(cairo);
    cairo_rectangle(cairo, shape->x, shape->y, shape->width, shape->height);
    cairo_clip(cairo);
    set_tone(brush, shape->line);
    cairo_set_line_width(cairo, 1.2);
    for (int i = 0; i * HATCH_STEP < shape->width + shape->height; i++) {
        double x = i * HATCH_STEP - shape->height;
        cairo_move_to(cairo, shape->x + x, shape->y + shape->height);
        cairo_line_to(cairo, shape->x + x + shape->height, shape->y);
    }
    cairo_stroke(cairo);
    cairo_restore(cairo);
}

static void draw_text(const struct brush *brush, const struct shape *shape)
{
    static const double shift[] = {0, 0.5, 1};
    PangoLayout *layout = layout_of(brush->cairo, shape->size, shape->bold, shape->text);
    double baseline = (double)pango_layout_get_baseline(layout) / PANGO_SCALE;

    set_tone(brush, shape->fill);
    cairo_move_to(brush->cairo, shape->x - shift[shape->anchor] * layout_width(layout),
                  shape->y - baseline);
    pango_cairo_show_layout(brush->cairo, layout);
    g_object_unref(layout);
}

static void box_path(cairo_t *cairo, const struct shape *shape)
{
    double r = shape->radius;
    double x = shape->x;
    double y = shape->y;

    if (r <= 0) {
        cairo_rectangle(cairo, x, y, shape->width, shape->height);
        return;
    }
    cairo_arc(cairo, x + shape->width - r, y + r, r, -G_PI / 2, 0);
    cairo_arc(cairo, x + shape->width - r, y + shape->height - r, r, 0, G_PI / 2);
    cairo_arc(cairo, x + r, y + shape->height - r, r, G_PI / 2, G_PI);
    cairo_arc(cairo, x + r, y + r, r, G_PI, 3 * G_PI / 2);
    cairo_close_path(cairo);
}

static void draw_upright(const struct brush *brush, const struct shape *shape)
{
    static const double dashes[] = {4, 3};
    cairo_t *cairo = brush->cairo;

    cairo_new_path(cairo); /* text leaves a point behind */
    switch (shape->kind) {
    case SHAPE_BOX:
        box_path(cairo, shape);
        paint(brush, shape);
        if (shape->hatched) {
            hatch(brush, shape);
        }
        break;
    case SHAPE_LINE:
        cairo_set_dash(cairo, dashes, shape->dashed ? 2 : 0, 0);
        cairo_move_to(cairo, shape->x, shape->y);
        cairo_line_to(cairo, shape->width, shape->height);
        paint(brush, shape);
        cairo_set_dash(cairo, NULL, 0, 0);
        break;
    case SHAPE_CIRCLE:
        cairo_arc(cairo, shape->x, shape->y, shape->width, 0, 2 * G_PI);
        paint(brush, shape);
        break;
    case SHAPE_TEXT:
        draw_text(brush, shape);
        break;
    }
}

static void draw(const struct brush *brush, const struct shape *shape)
{
    cairo_t *cairo = brush->cairo;

    cairo_save(cairo);
    cairo_translate(cairo, shape->about_x, shape->about_y);
    cairo_rotate(cairo, shape->turn * G_PI / 180);
    cairo_translate(cairo, -shape->about_x, -shape->about_y);
    draw_upright(brush, shape);
    cairo_restore(cairo);
}

static cairo_status_t append_bytes(void *out, const unsigned char *bytes, unsigned size)
{
    g_byte_array_append(out, bytes, size);
    return CAIRO_STATUS_SUCCESS;
}

static void draw_all(const struct canvas *canvas, const struct brush *brush)
{
    set_tone(brush, TONE_PAPER);
    cairo_paint(brush->cairo);
    for (guint i = 0; i < canvas->shapes->len; i++) {
        draw(brush, &g_array_index(canvas->shapes, struct shape, i));
    }
}

/* POINTS: one pixel of the canvas is three quarters of one, as on the web. */
#define POINTS 0.75

static bool write_by_cairo(const struct canvas *canvas, double width, double height, bool dark,
                           bool pdf, const char *path, GError **error)
{
    GByteArray *bytes = g_byte_array_new();
    cairo_surface_t *surface =
        pdf ? cairo_pdf_surface_create_for_stream(append_bytes, bytes, width * POINTS,
                                                  height * POINTS)
            : cairo_image_surface_create(CAIRO_FORMAT_RGB24, (int)lround(width),
                                         (int)lround(height));
    struct brush brush = {cairo_create(surface), dark ? dark_tones : light_tones};
    cairo_status_t status;
    bool good;

    if (pdf) {
        cairo_scale(brush.cairo, POINTS, POINTS);
    }
    draw_all(canvas, &brush);
    status = cairo_status(brush.cairo);
    cairo_destroy(brush.cairo);
    if (status == CAIRO_STATUS_SUCCESS && !pdf) {
        status = cairo_surface_write_to_png_stream(surface, append_bytes, bytes);
    }
    cairo_surface_finish(surface);
    if (status != CAIRO_STATUS_SUCCESS) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot draw %s: %s", path,
                    cairo_status_to_string(status));
    }
    good =
        status == CAIRO_STATUS_SUCCESS && uvk_file_write(path, bytes->data, bytes->len, error);
    g_byte_array_free(bytes, TRUE);
    cairo_surface_destroy(surface);
    return good;
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

#define FILL_ROOM 8u /* "#rrggbb" */

static const char *fill_of(const struct shape *shape, const struct tone_colour *tones,
                           char room[FILL_ROOM])
{
    if (!shape->coloured) {
        return tones[shape->fill].name;
    }
    g_snprintf(room, FILL_ROOM, "#%06x", shape->colour & 0xFFFFFFu);
    return room;
}

static void svg_box(GString *out, const struct shape *shape, const struct tone_colour *tones,
                    const char *fill)
{
    static const char *const names[] = {"x", "y", "width", "height", "rx"};
    const double values[] = {shape->x, shape->y, shape->width, shape->height, shape->radius};

    g_string_append(out, "<rect");
    append_numbers(out, names, values, shape->radius > 0 ? 5 : 4);
    g_string_append_printf(out, " fill=\"%s\" stroke=\"%s\"/>\n", fill,
                           tones[shape->line].name);
}

static void svg_line(GString *out, const struct shape *shape, const struct tone_colour *tones)
{
    static const char *const names[] = {"x1", "y1", "x2", "y2", "stroke-width"};
    const double values[] = {shape->x, shape->y, shape->width, shape->height,
                             shape->line_width};

    g_string_append(out, "<line");
    append_numbers(out, names, values, 5);
    g_string_append_printf(out, " stroke=\"%s\"%s/>\n", tones[shape->line].name,
                           shape->dashed ? " stroke-dasharray=\"4 3\"" : "");
}

static void svg_circle(GString *out, const struct shape *shape, const struct tone_colour *tones)
{
    static const char *const names[] = {"cx", "cy", "r", "stroke-width"};
    const double values[] = {shape->x, shape->y, shape->width, shape->line_width};
    char fill[FILL_ROOM];

    g_string_append(out, "<circle");
    append_numbers(out, names, values, 4);
    g_string_append_printf(out, " fill=\"%s\" stroke=\"%s\"/>\n", fill_of(shape, tones, fill),
                           tones[shape->line].name);
}

static void svg_text(GString *out, const struct shape *shape, const struct tone_colour *tones)
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

static void svg_shape(GString *out, const struct shape *shape, const struct tone_colour *tones)
{
    char fill[FILL_ROOM];

    if (shape->turn != 0) {
        char angle[3][G_ASCII_DTOSTR_BUF_SIZE];
        g_ascii_formatd(angle[0], sizeof angle[0], "%.2f", shape->turn);
        g_ascii_formatd(angle[1], sizeof angle[1], "%.2f", shape->about_x);
        g_ascii_formatd(angle[2], sizeof angle[2], "%.2f", shape->about_y);
        g_string_append_printf(out, "<g transform=\"rotate(%s %s %s)\">", angle[0], angle[1],
                               angle[2]);
    }
    switch (shape->kind) {
    case SHAPE_BOX:
        svg_box(out, shape, tones, fill_of(shape, tones, fill));
        if (shape->hatched) {
            svg_box(out, shape, tones, "url(#hatch)");
        }
        break;
    case SHAPE_LINE:
        svg_line(out, shape, tones);
        break;
    case SHAPE_CIRCLE:
        svg_circle(out, shape, tones);
        break;
    case SHAPE_TEXT:
        svg_text(out, shape, tones);
        break;
    }
    if (shape->turn != 0) {
        g_string_append(out, "</g>\n");
    }
}

static bool write_svg(const struct canvas *canvas, double width, double height, bool dark,
                      const char *path, GError **error)
{
    const struct tone_colour *tones = dark ? dark_tones : light_tones;
    GString *out = g_string_new(NULL);
    bool good;

    g_string_printf(out,
                    "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%d\" height=\"%d\" "
                    "viewBox=\"0 0 %d %d\" font-family=\"%s\">\n"
                    "<defs><pattern id=\"hatch\" width=\"6\" height=\"6\" "
                    "patternUnits=\"userSpaceOnUse\" patternTransform=\"rotate(45)\">"
                    "<line x1=\"0\" y1=\"0\" x2=\"0\" y2=\"6\" stroke=\"%s\" "
                    "stroke-width=\"2\"/></pattern></defs>\n"
                    "<rect width=\"100%%\" height=\"100%%\" fill=\"%s\"/>\n",
                    (int)lround(width), (int)lround(height), (int)lround(width),
                    (int)lround(height), FONT, tones[TONE_INK].name, tones[TONE_PAPER].name);
    for (guint i = 0; i < canvas->shapes->len; i++) {
        svg_shape(out, &g_array_index(canvas->shapes, struct shape, i), tones);
    }
    g_string_append(out, "</svg>\n");
    good = uvk_file_write(path, out->str, out->len, error);
    g_string_free(out, TRUE);
    return good;
}

bool canvas_write(const struct canvas *canvas, double width, double height, bool dark,
                  const char *path, GError **error)
{
    bool pdf = g_str_has_suffix(path, ".pdf");

    if (g_str_has_suffix(path, ".svg")) {
        return write_svg(canvas, width, height, dark, path, error);
    }
    if (pdf || g_str_has_suffix(path, ".png")) {
        return write_by_cairo(canvas, width, height, dark, pdf, path, error);
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "a picture is an .svg, a .png or a .pdf, this is none: %s", path);
    return false;
}
