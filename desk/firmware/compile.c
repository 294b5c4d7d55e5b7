/* compile.c - run the chip's compiler, and keep what it made. */
#include "parts.h"

#include <errno.h>
#include <glib/gstdio.h>
#include <string.h>

static const char *const flags[] = {
    "-std=gnu11",
    "-Os",
    "-ffreestanding",
    "-ffunction-sections",
    "-fdata-sections",
    "-fno-jump-tables",
    "-fshort-enums",
    "-Wall",
    "-Wextra",
    "-fno-common",
    NULL,
};
/* Engine and port are compiled as a whole, once, and kept: then a change of the keymap costs a
 * link and no more. */
static const char *const join_flags[] = {"-Os",
                                         "-flto",
                                         "-fwhole-program",
                                         "-ffunction-sections",
                                         "-fdata-sections",
                                         "-fno-jump-tables",
                                         "-fshort-enums",
                                         "-r",
                                         "-nostdlib",
                                         "-Wl,--unique=.init*",
                                         NULL};
/* Functions in another order, and nothing else. */
static const char *const near_flags[] = {"-r", "-nostdlib", NULL};
/* The linker takes what is larger than the chip: what does not fit is told by us, with the
 * numbers. */
static const char *const link_flags[] = {"-Os", "-Wl,--gc-sections", NULL};
static const char *const *const all_flags[] = {flags, join_flags, near_flags, link_flags};

/* ---- hashes ----------------------------------------------------------------------- */

static char *hash_of(const char *first, ...) G_GNUC_NULL_TERMINATED;

static char *hash_of(const char *first, ...)
{
    GChecksum *sum = g_checksum_new(G_CHECKSUM_SHA256);
    va_list rest;
    char *hash;

    va_start(rest, first);
    for (const char *text = first; text != NULL; text = va_arg(rest, const char *)) {
        g_checksum_update(sum, (const guchar *)text, (gssize)strlen(text) + 1);
    }
    va_end(rest);
    hash = g_strndup(g_checksum_get_string(sum), 24);
    g_checksum_free(sum);
    return hash;
}

static gint by_name(gconstpointer a, gconstpointer b)
{
    return strcmp(*(const char *const *)a, *(const char *const *)b);
}

/* All headers of a folder, in the order of their names, into SUM. */
static void hash_headers(GChecksum *sum, const char *sources, const char *folder)
{
    char *path = g_build_filename(sources, folder, NULL);
    GDir *dir = g_dir_open(path, 0, NULL);
    GPtrArray *names = g_ptr_array_new_with_free_func(g_free);
    const char *name;

    while (dir != NULL && (name = g_dir_read_name(dir)) != NULL) {
        if (g_str_has_suffix(name, ".h")) {
            g_ptr_array_add(names, g_build_filename(path, name, NULL));
        }
    }
    g_ptr_array_sort(names, by_name);
    for (guint i = 0; i < names->len; i++) {
        char *text = NULL;
        if (g_file_get_contents(g_ptr_array_index(names, i), &text, NULL, NULL)) {
            g_checksum_update(sum, (const guchar *)text, (gssize)strlen(text) + 1);
        }
        g_free(text);
    }
    g_ptr_array_free(names, TRUE);
    g_clear_pointer(&dir, g_dir_close);
    g_free(path);
}

static char *headers_hash(const struct compiler *compiler)
{
    GChecksum *sum = g_checksum_new(G_CHECKSUM_SHA256);
    char *port = g_build_filename("keyboard", "ports", compiler->chip->port, NULL);
    char *hash;

    hash_headers(sum, compiler->sources, "include/uvrek");
    hash_headers(sum, compiler->sources, "keyboard/engine");
    hash_headers(sum, compiler->sources, "image");
    hash_headers(sum, compiler->sources, "keyboard/usb");
    hash_headers(sum, compiler->sources, port);
    hash = g_strdup(g_checksum_get_string(sum));
    g_checksum_free(sum);
    g_free(port);
    return hash;
}

/* ---- running the compiler --------------------------------------------------------- */

#define SECONDS_MOST 300u /* for one file: a compiler that takes longer has stopped */

static void add_options(GPtrArray *command, const char *const *options)
{
    for (; *options != NULL; options++) {
        g_ptr_array_add(command, g_strdup(*options));
    }
}

static GPtrArray *new_command(const struct compiler *compiler, const char *const *options)
{
    GPtrArray *command = g_ptr_array_new_with_free_func(g_free);

    g_ptr_array_add(command, g_strdup(compiler->chip->compiler));
    add_options(command, options);
    add_options(command, compiler->chip->compiler_options);
    return command;
}

/* It is not the user's text that failed to compile, so none of it is shown as if it were:
 * the compiler's words are kept in a file. */
static void explain_failure(const struct compiler *compiler, const char *what,
                            const char *output, GError **error)
{
    char *path = g_build_filename(compiler->cache, "last-failure.txt", NULL);

    g_clear_error(error);
    if (g_file_set_contents(path, output != NULL ? output : "", -1, NULL)) {
        g_set_error(
            error, UVK_PROBLEM, UVK_NOT_DONE,
            "%s failed on %s, a part of Uvrek, not of your files; what it said is in %s",
            compiler->chip->compiler, what, path);
    } else {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "%s failed on %s, and %s cannot be written: is the disk full?",
                    compiler->chip->compiler, what, path);
    }
    g_free(path);
}

/* NAME in the folder of what is being made, as the compiler sees it from the cache. */
static char *in_work(const struct compiler *compiler, const char *name)
{
    return g_build_filename(strrchr(compiler->work, '/') + 1, name, NULL);
}

/* Run COMMAND, and let it write what becomes NAME in the cache. */
static bool make_file(const struct compiler *compiler, GPtrArray *command, const char *name,
                      const char *what, GError **error)
{
    char *made = g_build_filename(compiler->work, name, NULL);
    char *path = g_build_filename(compiler->cache, name, NULL);
    GError *why = NULL;
    char *output = NULL;
    bool good;

    g_ptr_array_add(command, g_strdup("-o"));
    g_ptr_array_add(command, in_work(compiler, name));
    g_ptr_array_add(command, NULL);
    /* a compiler of the whole passes its own files on by name, and stumbles over blanks in it
     */
    good = process_run((const char *const *)command->pdata, compiler->cache,
                       strrchr(compiler->work, '/') + 1, SECONDS_MOST, &output, &why);
    if (!good && why != NULL) {
        g_propagate_error(error, why);
    } else if (!good) {
        explain_failure(compiler, what, output, error);
    }
    good = good && kept_take(made, path, error);
    g_free(output);
    g_free(made);
    g_free(path);
    return good;
}

/* ---- the doors -------------------------------------------------------------------- */

static bool find_compiler(struct compiler *compiler, GError **error)
{
    GArray *needs = uvk_needs(compiler->chip);
    GString *identity = g_string_new(NULL);
    GString *missing = g_string_new(NULL);

    for (guint i = 0; i < needs->len; i++) {
        const struct uvk_need *need = &g_array_index(needs, struct uvk_need, i);
        if (!need->there) {
            g_string_append_printf(missing, " %s", need->package);
        }
        g_string_append_printf(identity, "%s %s\n", need->name,
                               need->version != NULL ? need->version : "");
    }
    uvk_needs_free(needs);
    for (size_t list = 0; list < G_N_ELEMENTS(all_flags); list++) {
        for (const char *const *flag = all_flags[list]; *flag != NULL; flag++) {
            g_string_append(identity, *flag);
        }
    }
    for (const char *const *flag = compiler->chip->compiler_options; *flag != NULL; flag++) {
        g_string_append(identity, *flag);
    }
    for (const char *const *flag = compiler->chip->linker_options; *flag != NULL; flag++) {
        g_string_append(identity, *flag);
    }
    compiler->identity = g_string_free(identity, FALSE);
    if (missing->len > 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "this machine cannot build for the %s yet; as root: apt-get install%s",
                    compiler->chip->title, missing->str);
    }
    bool found = missing->len == 0;
    g_string_free(missing, TRUE);
    return found;
}

static bool open_cache(struct compiler *compiler, const char *cache, GError **error)
{
    char *named = cache != NULL ? g_strdup(cache)
                                : g_build_filename(g_get_user_cache_dir(), "uvrek", NULL);
    char *hash;
    char *path;
    bool good;

    compiler->cache = g_canonicalize_filename(named, NULL);
    g_free(named);
    if (g_mkdir_with_parents(compiler->cache, 0755) != 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot make the folder %s: %s",
                    compiler->cache, g_strerror(errno));
        return false;
    }
    compiler->work = kept_work_folder(compiler->cache, error);
    if (compiler->work == NULL) {
        return false;
    }
    hash = hash_of(compiler->config, NULL);
    compiler->config_name = g_strdup_printf("%s-config.h", hash);
    path = g_build_filename(compiler->cache, compiler->config_name, NULL);
    good = kept_text(path, compiler->config, error);
    g_free(path);
    g_free(hash);
    return good;
}

bool compiler_open(struct compiler *compiler, const struct uvk_chip *chip, const char *cache,
                   char *config, GError **error)
{
    memset(compiler, 0, sizeof *compiler);
    compiler->chip = chip;
    compiler->config = config;
    compiler->sources = uvk_source_folder(error);
    if (compiler->sources == NULL || !find_compiler(compiler, error) ||
        !open_cache(compiler, cache, error)) {
        return false;
    }
    compiler->headers = headers_hash(compiler);
    return true;
}

void compiler_close(struct compiler *compiler)
{
    g_free(compiler->sources);
    g_free(compiler->cache);
    g_free(compiler->identity);
    g_free(compiler->headers);
    g_free(compiler->config);
    g_free(compiler->config_name);
    if (compiler->work != NULL) {
        kept_remove_folder(compiler->work);
    }
    g_free(compiler->work);
}

/* PART: of engine and port, which are compiled as a whole later. */
static GPtrArray *compile_command(const struct compiler *compiler, const char *source,
                                  bool part)
{
    GPtrArray *command = new_command(compiler, flags);

    if (part) {
        g_ptr_array_add(command, g_strdup("-flto"));
    }

    g_ptr_array_add(command, g_strdup_printf("-I%s/include", compiler->sources));
    g_ptr_array_add(command, g_strdup_printf("-I%s/keyboard/engine", compiler->sources));
    g_ptr_array_add(command, g_strdup("-I.")); /* the cache, with the configuration */
    g_ptr_array_add(command, g_strdup_printf("-DUVK_CONFIG=\"%s\"", compiler->config_name));
    g_ptr_array_add(command, g_strdup("-c"));
    g_ptr_array_add(command, g_strdup(source));
    return command;
}

/* Generated text becomes a file of the cache, named by its hash. */
static char *keep_text(const struct compiler *compiler, const char *text, const char *label,
                       GError **error)
{
    char *hash = hash_of(text, NULL);
    char *path = g_strdup_printf("%s/%s-%s.c", compiler->cache, hash, label);

    if (!kept_text(path, text, error)) {
        g_clear_pointer(&path, g_free);
    }
    g_free(hash);
    return path;
}

/* Is NAME in the cache, and whole? */
static bool is_kept(const struct compiler *compiler, const char *name)
{
    char *path = g_build_filename(compiler->cache, name, NULL);
    bool good = kept_is_good(path);

    g_free(path);
    return good;
}

/* What FILE, or the keymap, is called among the files of the cache: its name, without folder.
 */
static char *label_of(const char *file)
{
    char *base = file != NULL ? g_path_get_basename(file) : g_strdup("keymap.c");

    base[strlen(base) - strlen(".c")] = '\0';
    return base;
}

char *compiler_object(struct compiler *compiler, const char *file, const char *text,
                      GError **error)
{
    char *label = label_of(file);
    char *source = file != NULL ? g_build_filename(compiler->sources, file, NULL)
                                : keep_text(compiler, text, label, error);
    char *contents = NULL;
    char *hash = NULL;
    char *object = NULL;

    if (source != NULL && g_file_get_contents(source, &contents, NULL, error)) {
        hash = hash_of(compiler->identity, compiler->headers, compiler->config, contents, NULL);
        object = g_strdup_printf("%s-%s.o", hash, label);
    }
    if (object != NULL && !is_kept(compiler, object)) {
        GPtrArray *command = compile_command(compiler, source, text == NULL);
        if (!make_file(compiler, command, object, label, error)) {
            g_clear_pointer(&object, g_free);
        }
        compiler->compiled++;
        g_ptr_array_free(command, TRUE);
    }
    g_free(hash);
    g_free(contents);
    g_free(source);
    g_free(label);
    return object;
}

char *compiler_join(struct compiler *compiler, char **objects, GError **error)
{
    char *all = g_strjoinv("\n", objects);
    char *hash = hash_of(compiler->identity, all, NULL);
    char *joined = g_strconcat(hash, "-whole.o", NULL);

    if (!is_kept(compiler, joined)) {
        GPtrArray *command = new_command(compiler, join_flags);
        add_options(command, (const char *const *)objects);
        if (!make_file(compiler, command, joined, "engine and port", error)) {
            g_clear_pointer(&joined, g_free);
        }
        g_ptr_array_free(command, TRUE);
    }
    g_free(all);
    g_free(hash);
    return joined;
}

/* The script is kept beside what it is for. */
static bool put_near(struct compiler *compiler, const char *whole, const char *near,
                     const char *script, GError **error)
{
    char *object = g_build_filename(compiler->cache, whole, NULL);
    char *path = g_build_filename(compiler->cache, script, NULL);
    char *text = near_script(object, compiler->chip, error);
    bool good = text != NULL && kept_text(path, text, error);

    if (good) {
        GPtrArray *command = new_command(compiler, near_flags);
        g_ptr_array_add(command, g_strconcat("-Wl,-T,", script, NULL));
        g_ptr_array_add(command, g_strdup(whole));
        good = make_file(compiler, command, near, "engine and port", error);
        g_ptr_array_free(command, TRUE);
    }
    g_free(text);
    g_free(path);
    g_free(object);
    return good;
}

char *compiler_near(struct compiler *compiler, const char *whole, GError **error)
{
    char *hash = hash_of(compiler->identity, whole, NULL);
    char *near = g_strconcat(hash, "-near.o", NULL);
    char *script = g_strconcat(hash, "-near.ld", NULL);

    if (compiler->chip->near_call == 0) {
        g_free(near);
        near = g_strdup(whole);
    } else if (!is_kept(compiler, near) && !put_near(compiler, whole, near, script, error)) {
        g_clear_pointer(&near, g_free);
    }
    g_free(script);
    g_free(hash);
    return near;
}

/* The path of the chip's linker script; NULL: it has none. */
static char *linker_script(const struct compiler *compiler)
{
    const struct uvk_chip *chip = compiler->chip;

    return chip->linker_script != NULL
               ? g_build_filename(compiler->sources, "keyboard", "ports", chip->port,
                                  chip->linker_script, NULL)
               : NULL;
}

/* What it says: a change of it means to link anew. */
static char *script_text(const struct compiler *compiler)
{
    char *path = linker_script(compiler);
    char *text = NULL;

    if (path != NULL) {
        (void)g_file_get_contents(path, &text, NULL, NULL);
    }
    g_free(path);
    return text;
}

/* Link, and keep the ELF file and its map. */
static bool link_objects(struct compiler *compiler, char **objects, const char *elf,
                         const char *map, GError **error)
{
    GPtrArray *command = new_command(compiler, link_flags);
    char *script = linker_script(compiler);
    char *made = g_build_filename(compiler->work, map, NULL);
    char *path = g_build_filename(compiler->cache, map, NULL);
    bool good;

    add_options(command, compiler->chip->linker_options);
    if (script != NULL) {
        g_ptr_array_add(command, g_strconcat("-T", script, NULL));
    }
    g_ptr_array_add(command, g_strdup("-Xlinker"));
    g_ptr_array_add(command, g_strdup("-Map"));
    g_ptr_array_add(command, g_strdup("-Xlinker"));
    g_ptr_array_add(command, in_work(compiler, map));
    add_options(command, (const char *const *)objects);
    good = make_file(compiler, command, elf, "the firmware", error) &&
           kept_take(made, path, error);
    g_ptr_array_free(command, TRUE);
    g_free(script);
    g_free(made);
    g_free(path);
    return good;
}

char *compiler_link(struct compiler *compiler, char **objects, bool *linked, GError **error)
{
    char *all = g_strjoinv("\n", objects);
    char *script = script_text(compiler);
    char *hash = hash_of(compiler->identity, all, script, NULL);
    char *elf = g_strconcat(hash, ".elf", NULL);
    char *map = g_strconcat(hash, ".map", NULL);
    char *path = NULL;

    *linked = !is_kept(compiler, elf) || !is_kept(compiler, map);
    if (!*linked || link_objects(compiler, objects, elf, map, error)) {
        path = g_build_filename(compiler->cache, elf, NULL);
    }
    g_free(all);
    g_free(script);
    g_free(hash);
    g_free(elf);
    g_free(map);
    return path;
}
