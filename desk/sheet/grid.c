/* grid.c - see grid.h. */
#include "grid.h"

#include "short.h"

#include <string.h>

struct grid grid_new(int width, int height)
{
    struct grid grid = {.width = width, .height = height};

    grid.cells = g_new0(gunichar, (gsize)(width * height));
    return grid;
}

void grid_clear(struct grid *grid)
{
    g_free(grid->cells);
}

void grid_put(struct grid *grid, int x, int y, gunichar character)
{
    if (x >= 0 && x < grid->width && y >= 0 && y < grid->height) {
        grid->cells[y * grid->width + x] = character;
    }
}

gunichar grid_get(const struct grid *grid, int x, int y)
{
    bool inside = x >= 0 && x < grid->width && y >= 0 && y < grid->height;
    gunichar character = inside ? grid->cells[y * grid->width + x] : 0;

    return character != 0 ? character : ' '; /* 0: nothing was put there */
}

/* Lines that meet share their corners: which ways a character goes, as bits up, right, down,
 * left. */
static const char *const lines = " ╵╶└╷│┌├╴┘─┴┐┤┬┼";

static unsigned ways_of(gunichar character)
{
    const char *at = g_utf8_strchr(lines, -1, character);

    return at != NULL ? (unsigned)g_utf8_pointer_to_offset(lines, at) : 0;
}

static void put_line(struct grid *grid, int x, int y, unsigned ways)
{
    ways |= ways_of(grid_get(grid, x, y));
    grid_put(grid, x, y, g_utf8_get_char(g_utf8_offset_to_pointer(lines, (glong)ways)));
}

void grid_box(struct grid *grid, int x, int y, int width, int height)
{
    for (int i = 1; i < width; i++) {
        put_line(grid, x + i, y, 2 | 8);
        put_line(grid, x + i, y + height, 2 | 8);
    }
    for (int i = 1; i < height; i++) {
        put_line(grid, x, y + i, 1 | 4);
        put_line(grid, x + width, y + i, 1 | 4);
    }
    put_line(grid, x, y, 2 | 4);
    put_line(grid, x + width, y, 4 | 8);
    put_line(grid, x, y + height, 1 | 2);
    put_line(grid, x + width, y + height, 1 | 8);
}

/* TEXT in the middle of WIDTH characters; what is too long loses its end. */
void grid_word(struct grid *grid, int x, int y, int width, const char *name)
{
    char *text = short_text(name, width);
    int length = (int)g_utf8_strlen(text, -1);
    int shown = MIN(length, width);
    int start = x + (width - shown) / 2;
    const char *at = text;

    for (int i = 0; i < shown; i++, at = g_utf8_next_char(at)) {
        gunichar character = g_utf8_get_char(at);
        grid_put(grid, start + i, y, length > width && i == shown - 1 ? 0x2026 : character);
    }
    g_free(text);
}

bool grid_is_long(const char *name, int width)
{
    char *text = short_text(name, width);
    bool is_long = g_utf8_strlen(text, -1) > width;

    g_free(text);
    return is_long;
}

char *grid_text(const struct grid *grid)
{
    GString *out = g_string_new(NULL);

    for (int y = 0; y < grid->height; y++) {
        gsize end = out->len;
        for (int x = 0; x < grid->width; x++) {
            g_string_append_unichar(out, grid_get(grid, x, y));
            end = grid_get(grid, x, y) != ' ' ? out->len : end;
        }
        g_string_truncate(out, end);
        g_string_append_c(out, '\n');
    }
    return g_string_free(out, FALSE);
}
