/* sizes.c - who takes the flash and the RAM, from the linker's map. */
#include "parts.h"

#include <string.h>

/* Which part an object belongs to, by the label in its file name. Engine and port are compiled
 * as a whole: what a feature of theirs costs shows only when it is left out. */
static const struct {
    const char *label, *part;
} labels[] = {
    {"keymap", "the keymap itself"},
    {"near", "engine and port"},
    {"whole", "engine and port"},
};

#define OTHERS "compiler's own code"

static const char *part_of(const char *object)
{
    char *base = g_path_get_basename(object);
    const char *dash = strchr(base, '-');
    const char *part = OTHERS;

    for (size_t i = 0; dash != NULL && i < G_N_ELEMENTS(labels); i++) {
        size_t length = strlen(labels[i].label);
        if (strncmp(dash + 1, labels[i].label, length) == 0 && dash[1 + length] == '.') {
            part = labels[i].part;
        }
    }
    g_free(base);
    return part;
}

static void add(GArray *parts, const char *name, uint32_t flash, uint32_t ram)
{
    struct uvk_part part = {name, flash, ram};

    for (guint i = 0; i < parts->len; i++) {
        struct uvk_part *known = &g_array_index(parts, struct uvk_part, i);
        if (strcmp(known->name, name) == 0) {
            known->flash += flash;
            known->ram += ram;
            return;
        }
    }
    g_array_append_val(parts, part);
}

struct reading_map {
    const struct uvk_chip *chip;
    GArray *parts;
};

/* More than any of these chips has, and less than from one of its memories to the next. */
#define MEMORY_MOST 0x800000u

/* A section of an object: its name (perhaps on a line of its own), address, size, file. */
static void add_section(const struct reading_map *map, const char *section, guint64 address,
                        guint64 size, const char *object)
{
    const struct uvk_chip *chip = map->chip;
    bool ram = address >= chip->ram_at && address < (guint64)chip->ram_at + MEMORY_MOST;
    bool flash = address >= chip->flash_at && address < (guint64)chip->flash_at + MEMORY_MOST;
    bool both = g_str_has_prefix(section, ".data"); /* its start values are in flash */

    if (size == 0 || !(ram || flash) || g_str_has_prefix(section, ".debug") ||
        g_str_has_prefix(section, ".comment") || g_str_has_prefix(section, ".note") ||
        g_str_has_prefix(section, ".stab")) {
        return;
    }
    add(map->parts, part_of(object), ram && !both ? 0 : (uint32_t)size,
        ram ? (uint32_t)size : 0);
}

static void parse_line(const struct reading_map *map, const char *line, char **pending)
{
    char **words = g_strsplit_set(line, " \t", -1);
    const char *found[4] = {NULL};
    size_t count = 0;
    size_t first;

    for (char **word = words; *word != NULL && count < 4; word++) {
        if (**word != '\0') {
            found[count++] = *word;
        }
    }
    first = count > 0 && found[0][0] == '.' ? 1 : 0;
    if (first == 1 && count == 1) {
        g_free(*pending);
        *pending = g_strdup(found[0]);
    } else if (count >= first + 3 && g_str_has_prefix(found[first], "0x") &&
               g_str_has_prefix(found[first + 1], "0x")) {
        const char *section = first == 1 ? found[0] : *pending;
        if (section != NULL) {
            add_section(map, section, g_ascii_strtoull(found[first], NULL, 16),
                        g_ascii_strtoull(found[first + 1], NULL, 16), found[first + 2]);
        }
        g_clear_pointer(pending, g_free);
    }
    g_strfreev(words);
}

static gint by_size(gconstpointer a, gconstpointer b)
{
    const struct uvk_part *left = a;
    const struct uvk_part *right = b;

    return (right->flash + right->ram > left->flash + left->ram) -
           (right->flash + right->ram < left->flash + left->ram);
}

GArray *sizes_read(const char *map_path, const struct uvk_chip *chip, GError **error)
{
    GArray *parts = g_array_new(FALSE, TRUE, sizeof(struct uvk_part));
    const struct reading_map reading = {chip, parts};
    char *text = NULL;
    char *pending = NULL;
    const char *map;
    char **lines;

    if (!g_file_get_contents(map_path, &text, NULL, error)) {
        g_array_free(parts, TRUE);
        return NULL;
    }
    map = strstr(text, "Linker script and memory map");
    lines = g_strsplit(map != NULL ? map : "", "\n", -1);
    for (char **line = lines; *line != NULL; line++) {
        if (**line == ' ') {
            parse_line(&reading, *line, &pending);
        }
    }
    g_strfreev(lines);
    g_free(pending);
    g_free(text);
    g_array_sort(parts, by_size);
    return parts;
}
