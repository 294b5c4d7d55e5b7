/* program.c - load the files of a program and read them in order. */
#include "reading.h"

#include "uvrek/explain.h"

#include <errno.h>
#include <stdio.h>
#include <string.h>

#define GAP_BETWEEN 3.0 /* key units between two halves, if nothing is said */

static void free_source(gpointer data)
{
    struct uvk_source *source = data;

    g_free(source->path);
    g_free(source->text);
    g_free(source);
}

char *uvk_source_bytes(const char *path, size_t *size)
{
    FILE *file = fopen(path, "rb");
    char *bytes;
    int error;

    if (file == NULL) {
        return NULL;
    }
    bytes = g_malloc(UVK_SOURCE_MAX + 2);
    errno = 0;
    *size = fread(bytes, 1, UVK_SOURCE_MAX + 1, file);
    error = ferror(file) ? errno : 0;
    (void)fclose(file);
    if (error != 0) {
        g_free(bytes);
        errno = error;
        return NULL;
    }
    bytes[*size] = '\0';
    return bytes;
}

/* Where the bytes stop being text; SIZE if they do not. */
static size_t text_size(const char *bytes, size_t size)
{
    const char *end;

    return g_utf8_validate(bytes, (gssize)size, &end) ? size : (size_t)(end - bytes);
}

/* What is not seen may make a text look other than it is. The first one is told. */
static void tell_unseen(struct reading *reading, const struct uvk_source *source)
{
    const char *unseen = uvk_find_unseen(source->text);
    struct uvk_place place = {source, 0, 0};
    gunichar character;
    char *fix;

    if (unseen == NULL) {
        return;
    }
    character = g_utf8_get_char(unseen);
    place.at = (uint32_t)(unseen - source->text);
    place.length = (uint32_t)(g_utf8_next_char(unseen) - unseen);
    fix = g_strdup_printf("in a string write \\u{%x}", character);
    uvk_say(reading->messages, UVK_SAYS_BAD_CHARACTER, place, fix,
            "an invisible character, U+%04X", character);
    g_free(fix);
}

/* What a text is that is none of the language; NULL: it may be one. */
static const char *what_else(const char *text)
{
    const char *start = text + strspn(text, " \t\r\n");

    if (*start == ':' && strspn(start + 1, "0123456789ABCDEFabcdef") >= 10) {
        return "a HEX file for a chip: name the keymap that it was built from";
    }
    if (*start == '{' && start[1 + strspn(start + 1, " \t\r\n")] == '"') {
        return "JSON: 'uvrek import' makes a text of it";
    }
    return g_str_has_prefix(start, "<?xml") || g_str_has_prefix(start, "<svg")
               ? "XML, perhaps a picture: name the keymap"
               : NULL;
}

/* A mark that some editors put before a text means nothing. */
static size_t without_mark(char *bytes, size_t size)
{
    static const char mark[] = "\xEF\xBB\xBF"; /* U+FEFF */
    size_t length = strlen(mark);

    if (size < length || memcmp(bytes, mark, length) != 0) {
        return size;
    }
    memmove(bytes, bytes + length, size - length + 1); /* the zero behind it as well */
    return size - length;
}

/* Take BYTES (owned) as a source of the program. NULL if they are no text: that is told at
 * PLACE, where the file is used. */
static struct uvk_source *add_source(struct reading *reading, const char *path, char *bytes,
                                     size_t size, struct uvk_place place)
{
    struct uvk_source *source = g_new0(struct uvk_source, 1);
    size_t valid;

    size = without_mark(bytes, size);
    valid = text_size(bytes, size);
    source->path = g_strdup(path);
    source->text = bytes;
    source->size = size;
    g_ptr_array_add(reading->program->sources, source);
    if (size > UVK_SOURCE_MAX) {
        uvk_say(reading->messages, UVK_SAYS_TOO_LARGE, place, NULL,
                "%s is larger than %u bytes", path, UVK_SOURCE_MAX);
    } else if (valid < size) {
        uvk_say(reading->messages, UVK_SAYS_NO_TEXT, place, NULL,
                "%s is not UTF-8 text: byte %zu is 0x%02X", path, valid + 1,
                (unsigned)(unsigned char)bytes[valid]);
    } else if (what_else(bytes) != NULL) {
        uvk_say(reading->messages, UVK_SAYS_NO_TEXT, place, NULL, "%s is %s", path,
                what_else(bytes));
    } else {
        tell_unseen(reading, source);
        return source;
    }
    bytes[0] = '\0';
    source->size = 0;
    return NULL;
}

static struct uvk_source *source_at(const struct reading *reading, const char *path)
{
    char *wanted = g_canonicalize_filename(path, NULL);
    struct uvk_source *found = NULL;

    for (guint i = 0; i < reading->program->sources->len && found == NULL; i++) {
        struct uvk_source *source = g_ptr_array_index(reading->program->sources, i);
        char *known = g_canonicalize_filename(source->path, NULL);
        found = strcmp(known, wanted) == 0 ? source : NULL;
        g_free(known);
    }
    g_free(wanted);
    return found;
}

static void read_source(struct reading *reading, struct uvk_source *source, GPtrArray *open);

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
    } else if ((bytes = uvk_source_bytes(path, &size)) == NULL) {
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
static void ignore(struct reading *reading, const struct uvk_node *statement)
{
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
        read_block(reading, &all, only_board_rules, G_N_ELEMENTS(only_board_rules), "a file");
        return;
    }
    collect_chosen(reading, &all);
    read_block(reading, &all, file_rules, G_N_ELEMENTS(file_rules), "a file");
    tell_board_doubts(reading);
    tell_doubts(reading);
    if (reading->board == NULL && reading->messages->errors == 0) {
        struct uvk_place place = {g_ptr_array_index(reading->program->sources, 0), 0, 1};
        uvk_say(reading->messages, UVK_SAYS_MISSING, place, NULL,
                "there is no board in this program");
    }
}

static struct reading begin(struct uvk_program *program)
{
    struct reading reading = {.program = program,
                              .messages = &program->messages,
                              .arena = program->arena,
                              .own = program->names,
                              .gap = GAP_BETWEEN,
                              .places = g_array_new(FALSE, TRUE, sizeof(struct uvk_key_place)),
                              .chosen = g_ptr_array_new(),
                              .blocks = g_ptr_array_new(),
                              .play_end = (struct uvk_play **)&program->plays};
    return reading;
}

static void end(struct reading *reading)
{
    g_array_free(reading->places, TRUE);
    g_ptr_array_free(reading->chosen, TRUE);
    g_ptr_array_free(reading->blocks, TRUE);
}

/* Takes BYTES. OPTIONS: the board alone, with these. */
static struct uvk_program *read_program(const char *path, char *bytes, size_t size,
                                        const unsigned *options)
{
    struct uvk_program *program = g_new0(struct uvk_program, 1);
    struct reading reading;
    const struct uvk_place nowhere = {NULL, 0, 0};
    struct uvk_source *source;
    GPtrArray *open = g_ptr_array_new();

    uvk_messages_init(&program->messages);
    program->arena = uvk_arena_new();
    program->names = g_array_new(FALSE, TRUE, sizeof(struct own_name));
    program->name_index = g_hash_table_new(g_str_hash, g_str_equal);
    program->sources = g_ptr_array_new_with_free_func(free_source);
    reading = begin(program);
    reading.options = options;
    if (bytes == NULL) {
        uvk_say(&program->messages, UVK_SAYS_UNREADABLE, nowhere, NULL, "cannot read %s: %s",
                path, g_strerror(errno));
    } else if ((source = add_source(&reading, path, bytes, size, nowhere)) != NULL) {
        read_source(&reading, source, open);
        read_blocks(&reading);
    }
    uvk_messages_sort(&program->messages);
    g_ptr_array_free(open, TRUE);
    end(&reading);
    return program;
}

struct uvk_program *uvk_program_load(const char *path)
{
    size_t size = 0;
    char *bytes = uvk_source_bytes(path, &size);

    return read_program(path, bytes, size, NULL);
}

struct uvk_program *uvk_program_read(const char *path, const char *text, size_t size)
{
    size_t taken = MIN(size, UVK_SOURCE_MAX + 1);
    char *bytes = g_malloc(taken + 1);

    memcpy(bytes, text, taken);
    bytes[taken] = '\0';
    return read_program(path, bytes, taken, NULL);
}

struct uvk_program *uvk_program_choosing(const struct uvk_program *program,
                                         const unsigned *options)
{
    const struct uvk_source *source = g_ptr_array_index(program->sources, 0);

    return read_program(source->path, g_memdup2(source->text, source->size + 1), source->size,
                        options);
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

/* The one statement of TEXT, which AS names in messages; NULL: it has none, or mistakes. */
static const struct uvk_node *read_one(struct reading *reading, const char *as,
                                       const char *text)
{
    size_t size = MIN(strlen(text), UVK_SOURCE_MAX + 1);
    const struct uvk_place nowhere = {NULL, 0, 0};
    struct uvk_source *source = add_source(reading, as, g_strndup(text, size), size, nowhere);
    struct uvk_node *block;
    unsigned before;

    if (source == NULL) {
        return NULL;
    }
    before = reading->messages->errors;
    block = uvk_parse(source, reading->arena, reading->messages);
    if (reading->messages->errors > before || block->child == NULL ||
        block->child->kind == UVK_NODE_BROKEN) {
        return NULL;
    }
    if (block->child->next != NULL) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, block->child->next->place, NULL,
                "one %s at a time", as);
        return NULL;
    }
    return block->child;
}

/* Read more of a program whose model is complete: the readers only look at it now. */
static struct reading begin_again(struct uvk_program *program, struct uvk_messages *messages)
{
    struct reading reading = begin(program);

    reading.messages = messages;
    reading.board = (struct uvk_board *)program->board;
    reading.keymap = (struct uvk_keymap *)program->keymap;
    return reading;
}

bool uvk_cell_read(struct uvk_program *program, const char *text, struct uvk_messages *messages,
                   struct uvk_value *value)
{
    struct reading reading = begin_again(program, messages);
    const struct uvk_node *statement = read_one(&reading, "cell", text);

    *value = (struct uvk_value){.kind = UVK_VALUE_BROKEN};
    if (statement != NULL && statement->child->next != NULL) {
        uvk_say(messages, UVK_SAYS_EXPECTED, statement->child->next->place, NULL,
                "one cell at a time");
    } else if (statement != NULL) {
        *value = cell_value(&reading, statement->child);
    }
    end(&reading);
    return value->kind != UVK_VALUE_BROKEN;
}

const struct uvk_step *uvk_step_read(struct uvk_program *program, const char *text,
                                     struct uvk_messages *messages)
{
    struct reading reading = begin_again(program, messages);
    const struct uvk_node *statement = read_one(&reading, "step", text);
    const struct uvk_step *step = statement != NULL ? read_step(&reading, statement) : NULL;

    end(&reading);
    return step;
}
