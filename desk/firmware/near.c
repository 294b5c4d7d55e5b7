/* near.c - in which order functions stand: those that call one another near, where a chip has a
 * shorter call for what is near.
 *
 * Calls are read from the relocations of an object whose functions have a section each. The
 * best order is not looked for, a good one is: some functions are moved, time and again, and
 * stay where they are if no more calls are far than before. Which ones are moved is the same in
 * each build, so the order is, too. */
#include "parts.h"

#include <fcntl.h>
#include <gelf.h>
#include <string.h>
#include <unistd.h>

#define FUNCTIONS ".text."
#define MOVES     300000u
#define TOGETHER  6u /* so many functions are moved at once, at the most */

struct function {
    char *section;
    unsigned size;
    unsigned start; /* bytes from the start of all, as they stand now */
};

struct call {
    unsigned from, to; /* functions */
    unsigned at;       /* bytes from the start of FROM */
};

struct graph {
    GArray *functions; /* of struct function */
    GArray *calls;     /* of struct call; twice, if a function calls another one twice */
    unsigned reach;    /* bytes */
    uint32_t random;
};

static struct function *function_at(const struct graph *graph, unsigned index)
{
    return &g_array_index(graph->functions, struct function, index);
}

static void free_graph(struct graph *graph)
{
    for (guint i = 0; i < graph->functions->len; i++) {
        g_free(function_at(graph, i)->section);
    }
    g_array_unref(graph->functions);
    g_array_unref(graph->calls);
}

/* ---- what calls what --------------------------------------------------------------------- */

/* Of each section of ELF the function that it is, counted from 1; 0: it is none. */
static GArray *read_functions(struct graph *graph, Elf *elf)
{
    GArray *numbers = g_array_new(FALSE, TRUE, sizeof(unsigned));
    Elf_Scn *section = NULL;
    size_t names;

    if (elf_getshdrstrndx(elf, &names) != 0) {
        return numbers;
    }
    while ((section = elf_nextscn(elf, section)) != NULL) {
        size_t index = elf_ndxscn(section);
        GElf_Shdr header;
        const char *name = gelf_getshdr(section, &header) != NULL
                               ? elf_strptr(elf, names, header.sh_name)
                               : NULL;
        g_array_set_size(numbers, (guint)index + 1u);
        if (name != NULL && g_str_has_prefix(name, FUNCTIONS) && header.sh_size > 0) {
            struct function function = {g_strdup(name), (unsigned)header.sh_size, 0};
            g_array_append_val(graph->functions, function);
            g_array_index(numbers, unsigned, index) = graph->functions->len;
        }
    }
    return numbers;
}

/* 0: that section is no function, or there is none. */
static unsigned number_of(const GArray *numbers, size_t section)
{
    return section < numbers->len ? g_array_index(numbers, unsigned, section) : 0;
}

/* The section of a symbol of TABLE; 0: it is none of these. */
static size_t section_of(Elf *elf, size_t table, size_t symbol)
{
    Elf_Scn *section = elf_getscn(elf, table);
    Elf_Data *data = section != NULL ? elf_getdata(section, NULL) : NULL;
    GElf_Sym found;

    return data != NULL && gelf_getsym(data, (int)symbol, &found) != NULL ? found.st_shndx : 0;
}

static void read_calls(struct graph *graph, Elf *elf, const GArray *numbers, unsigned type)
{
    Elf_Scn *section = NULL;

    while ((section = elf_nextscn(elf, section)) != NULL) {
        GElf_Shdr header;
        Elf_Data *data;
        GElf_Rela place;
        unsigned from;
        if (gelf_getshdr(section, &header) == NULL || header.sh_type != SHT_RELA) {
            continue;
        }
        from = number_of(numbers, header.sh_info);
        data = elf_getdata(section, NULL);
        for (int i = 0; from > 0 && data != NULL && gelf_getrela(data, i, &place) != NULL;
             i++) {
            unsigned to =
                number_of(numbers, section_of(elf, header.sh_link, GELF_R_SYM(place.r_info)));
            struct call call = {from - 1, to - 1, (unsigned)place.r_offset};
            if (GELF_R_TYPE(place.r_info) == type && to > 0 && to != from) {
                g_array_append_val(graph->calls, call);
            }
        }
    }
}

static bool read_graph(struct graph *graph, const char *path, unsigned type, GError **error)
{
    int file = open(path, O_RDONLY | O_CLOEXEC);
    Elf *elf;
    bool good;

    (void)elf_version(EV_CURRENT);
    elf = file >= 0 ? elf_begin(file, ELF_C_READ, NULL) : NULL;
    good = elf != NULL && elf_kind(elf) == ELF_K_ELF;
    if (good) {
        GArray *numbers = read_functions(graph, elf);
        read_calls(graph, elf, numbers, type);
        g_array_unref(numbers);
    } else {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s is no object of the compiler", path);
    }
    (void)elf_end(elf);
    if (file >= 0) {
        (void)close(file);
    }
    return good;
}

/* ---- the order --------------------------------------------------------------------------- */

static unsigned random_below(struct graph *graph, unsigned limit)
{
    graph->random = graph->random * 1664525u + 1013904223u;
    return (unsigned)((uint64_t)graph->random * limit >> 32);
}

/* How many calls are far in ORDER; counted as far as one more than MOST. */
static unsigned far_calls(const struct graph *graph, const unsigned *order, unsigned most)
{
    unsigned at = 0;
    unsigned far = 0;

    for (guint i = 0; i < graph->functions->len; i++) {
        struct function *function = function_at(graph, order[i]);
        function->start = at;
        at += function->size;
    }
    for (guint i = 0; i < graph->calls->len && far <= most; i++) {
        const struct call *call = &g_array_index(graph->calls, struct call, i);
        unsigned from = function_at(graph, call->from)->start + call->at;
        unsigned to = function_at(graph, call->to)->start;
        far += (from > to ? from - to : to - from) > graph->reach;
    }
    return far;
}

/* The COUNT functions AT a place of FROM stand before those that are behind BEFORE then. */
static void move(const unsigned *from, unsigned *into, unsigned all, unsigned at,
                 unsigned count, unsigned before)
{
    unsigned left = 0;

    for (unsigned i = 0; i < all; i++) {
        if (left == before) {
            memcpy(into + left, from + at, count * sizeof *into);
            left += count;
        }
        if (i < at || i >= at + count) {
            into[left++] = from[i];
        }
    }
    if (left == before) {
        memcpy(into + left, from + at, count * sizeof *into);
    }
}

static unsigned *find_order(struct graph *graph)
{
    unsigned all = graph->functions->len;
    unsigned *order = g_new0(unsigned, all + 1u);
    unsigned *moved = g_new0(unsigned, all + 1u);
    unsigned best;

    for (unsigned i = 0; i < all; i++) {
        order[i] = i;
    }
    best = far_calls(graph, order, UINT_MAX - 1u);
    for (unsigned i = 0; i < MOVES && best > 0; i++) {
        unsigned at = random_below(graph, all);
        unsigned count = 1u + random_below(graph, TOGETHER);
        unsigned far;
        count = MIN(count, all - at);
        move(order, moved, all, at, count, random_below(graph, all - count + 1u));
        far = far_calls(graph, moved, best);
        if (far <= best) {
            unsigned *kept = order;
            order = moved;
            moved = kept;
            best = far;
        }
    }
    g_free(moved);
    return order;
}

char *near_script(const char *object, const struct uvk_chip *chip, GError **error)
{
    struct graph graph = {g_array_new(FALSE, TRUE, sizeof(struct function)),
                          g_array_new(FALSE, TRUE, sizeof(struct call)), chip->near_call, 1};
    GString *out = g_string_new("SECTIONS\n{\n  .text.near 0 :\n  {\n");
    unsigned *order;

    if (!read_graph(&graph, object, chip->call_type, error)) {
        free_graph(&graph);
        g_string_free(out, TRUE);
        return NULL;
    }
    order = find_order(&graph);
    for (guint i = 0; i < graph.functions->len; i++) {
        g_string_append_printf(out, "    *(%s)\n", function_at(&graph, order[i])->section);
    }
    g_string_append(out, "  }\n}\n");
    g_free(order);
    free_graph(&graph);
    return g_string_free(out, FALSE);
}
