/* program.c - the files of a program, read in order. */
#include "reading.h"

#include <errno.h>
#include <string.h>

#define GAP_BETWEEN 3.0 /* key units between two halves, if nothing is said */

static void read_source(struct reading *reading, struct uvk_source *source, GPtrArray *open);

static char *file_bytes(const struct uvk_program *program, const char *path, size_t *size)
{
    return program->reader != NULL ? program->reader(path, size, program->reader_data)
                                   : uvk_source_bytes(path, size);
}

/* use "path": read that file first. OPEN are the files that lead here. */
static void read_use(struct reading *reading, const struct uvk_node *statement, GPtrArray *open)
{
    const struct uvk_source *from = statement->place.source;
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_STRING, "a \"file\"");
    struct uvk_source *source;
    char *folder;
    char *path;
    char *bytes;
    size_t size;

    if (name == NULL) {
        return;
    }
    want_end(reading, statement, 2);
    folder = g_path_get_dirname(from->path);
    path = strcmp(folder, ".") == 0 || g_path_is_absolute(name->text)
               ? g_strdup(name->text)
               : g_build_filename(folder, name->text, NULL);
    source = source_at(reading, path);
    if (source != NULL) {
        if (g_ptr_array_find(open, source, NULL)) {
            uvk_say(reading->messages, UVK_SAYS_CIRCLE_OF_FILES, name->place, NULL,
                    "%s is being read already: these files use one another in a circle", path);
        }
    } else if (reading->program->sources->len >= UVK_USE_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, name->place, NULL,
                "a program has at most %u files", UVK_USE_MAX);
    } else if ((bytes = file_bytes(reading->program, path, &size)) == NULL) {
        uvk_say(reading->messages, UVK_SAYS_UNREADABLE, name->place, NULL, "cannot read %s: %s",
                path, g_strerror(errno));
    } else {
        source = add_source(reading, path, bytes, size, name->place);
        if (source != NULL) {
            read_source(reading, source, open);
        }
    }
    reading->files_unknown |= source == NULL;
    g_free(folder);
    g_free(path);
}

static void read_source(struct reading *reading, struct uvk_source *source, GPtrArray *open)
{
    struct uvk_node *block = uvk_parse(source, reading->arena, reading->messages);

    g_ptr_array_add(open, source);
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (at->kind != UVK_NODE_BROKEN && keyword(at) != NULL &&
            strcmp(keyword(at), "use") == 0) {
            read_use(reading, at, open);
        }
    }
    g_ptr_array_remove_index(open, open->len - 1);
    g_ptr_array_add(reading->blocks, block);
}

/* `use` is done by now. */
static void ignore(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    (void)subject;
    (void)reading;
    (void)statement;
}

static const struct rule file_rules[] = {
    {"use", ignore, true},
    {"board", read_board, true},
    {"keymap", read_keymap, true},
    {"play", read_play, true},
};

static const struct rule only_board_rules[] = {
    {"use", ignore, true},
    {"board", read_board, true},
    {"keymap", ignore, true},
    {"play", ignore, true},
};

/* What the keymap chooses decides which keys the board has, and boards are read first. */
static void collect_chosen(struct reading *reading, const struct uvk_node *all)
{
    for (const struct uvk_node *at = all->child; at != NULL; at = at->next) {
        const struct uvk_node *block = at->child;
        if (keyword(at) == NULL || strcmp(keyword(at), "keymap") != 0) {
            continue;
        }
        while (block != NULL && block->kind != UVK_NODE_BLOCK) {
            block = block->next;
        }
        for (const struct uvk_node *in = block != NULL ? block->child : NULL; in != NULL;
             in = in->next) {
            if (in->kind != UVK_NODE_BROKEN && keyword(in) != NULL &&
                strcmp(keyword(in), "choice") == 0) {
                g_ptr_array_add(reading->chosen, (gpointer)in);
            }
        }
    }
}

/* All files of one kind of statement before the next kind: a keymap may stand before its
 * board, in whatever file. */
static void read_blocks(struct reading *reading)
{
    struct uvk_node all = {.kind = UVK_NODE_BLOCK};
    struct uvk_node **end = &all.child;

    for (guint i = 0; i < reading->blocks->len; i++) {
        *end = ((struct uvk_node *)g_ptr_array_index(reading->blocks, i))->child;
        while (*end != NULL) {
            end = &(*end)->next;
        }
    }
    if (reading->options != NULL) {
        read_block(reading, &all, only_board_rules, G_N_ELEMENTS(only_board_rules), "a file",
                   NULL);
        return;
    }
    collect_chosen(reading, &all);
    read_block(reading, &all, file_rules, G_N_ELEMENTS(file_rules), "a file", NULL);
}

struct reading begin_reading(struct uvk_program *program, struct uvk_messages *messages)
{
    struct reading reading = {.program = program,
                              .messages = messages,
                              .arena = program->arena,
                              .own = program->names,
                              .gap = GAP_BETWEEN,
                              .places = g_array_new(FALSE, TRUE, sizeof(struct uvk_key_place)),
                              .chosen = g_ptr_array_new(),
                              .blocks = g_ptr_array_new(),
                              .play_end = (struct uvk_play **)&program->plays};

    /* once the model is complete, the readers only look at it */
    reading.board = (struct uvk_board *)program->board;
    reading.keymap = (struct uvk_keymap *)program->keymap;
    return reading;
}

void end_reading(struct reading *reading)
{
    g_array_free(reading->places, TRUE);
    g_ptr_array_free(reading->chosen, TRUE);
    g_ptr_array_free(reading->blocks, TRUE);
}

struct uvk_program *read_program(const struct text_read *text, const unsigned *options)
{
    struct uvk_program *program = g_new0(struct uvk_program, 1);
    struct reading reading;
    const struct uvk_place nowhere = {NULL, 0, 0};
    struct uvk_source *source;
    GPtrArray *open = g_ptr_array_new();

    uvk_messages_init(&program->messages);
    program->reader = text->reader;
    program->reader_data = text->reader_data;
    program->arena = uvk_arena_new();
    program->names = g_array_new(FALSE, TRUE, sizeof(struct own_name));
    program->name_index = g_hash_table_new(g_str_hash, g_str_equal);
    program->sources = g_ptr_array_new_with_free_func(free_source);
    reading = begin_reading(program, &program->messages);
    reading.options = options;
    if (text->bytes == NULL) {
        uvk_say(&program->messages, UVK_SAYS_UNREADABLE, nowhere, NULL, "cannot read %s: %s",
                text->path, g_strerror(errno));
    } else if ((source = add_source(&reading, text->path, text->bytes, text->size, nowhere)) !=
               NULL) {
        read_source(&reading, source, open);
        read_blocks(&reading);
    }
    g_ptr_array_free(open, TRUE);
    end_reading(&reading);
    return program;
}

struct uvk_program *uvk_program_choosing(const struct uvk_program *program,
                                         const unsigned *options)
{
    const struct uvk_source *source = g_ptr_array_index(program->sources, 0);
    const struct text_read text = {source->path, g_memdup2(source->text, source->size + 1),
                                   source->size, program->reader, program->reader_data};

    return read_program(&text, options);
}

void uvk_program_free(struct uvk_program *program)
{
    if (program == NULL) {
        return;
    }
    if (program->keymap != NULL) {
        uvk_layout_free(program->keymap->layout);
    }
    uvk_messages_clear(&program->messages);
    uvk_arena_free(program->arena);
    g_ptr_array_free(program->sources, TRUE);
    g_array_free(program->names, TRUE);
    g_hash_table_unref(program->name_index);
    g_free(program);
}
