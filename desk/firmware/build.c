/* build.c - one firmware, from the program to the files. */
#include "features.h"
#include "parts.h"

#include "uvrek/version.h"

#include <string.h>

/* Names of the tables, for the linker; see image/tables.h. */
static const char *const table_names[UVK_TABLES] = {
    "SWITCHES", "SETTINGS", "CELLS", "CHORDS",  "HOLDS", "FEELS",     "WHENS",
    "COMBOS",   "PARTS",    "STEPS", "DANCES",  "LINES", "SEQUENCES", "KNOBS",
    "HANDS",    "TEXTS",    "LIGHT", "COLOURS", "LAMPS", "STRIP"};

/* Where each table stands, and how many rows it has, as symbols. */
static void append_symbols(GString *out, const struct uvk_image *image)
{
    for (unsigned table = 0; table < UVK_TABLES; table++) {
        const char *name = table_names[table];
        g_string_append_printf(out,
                               "__asm__(\".global uvk_at_%s, uvk_rows_%s\\n\"\n"
                               "        \".set uvk_at_%s, uvk_keymap_image+%u\\n\"\n"
                               "        \".set uvk_rows_%s, %u\");\n",
                               name, name, name, image->table[table], name, image->rows[table]);
    }
}

/* What this is, for who reads the file or the chip. Of two halves, a character says which one
 * it is for: any, so far. */
static char *note_text(const struct uvk_program *program)
{
    return g_strdup_printf(
        UVK_NOTE_MARK UVK_VERSION_TEXT " %s %s %s%s", program->board->chip->name,
        program->board->name, program->keymap->name,
        uvk_one_controller(program->board) ? "" : (const char[]){' ', UVK_HALF_ANY, '\0'});
}

/* Behind the keymap, which knows its size. */
static void append_note(GString *out, const char *note)
{

    for (const char *at = note; *at != '\0'; at++) {
        g_string_append_printf(out, "%u,", (unsigned)(uint8_t)*at);
    }
    g_string_append(out, "0");
}

/* The last character of the note, which stands behind SIZE bytes of the keymap. */
static void append_half(GString *out, uint16_t size, const char *note)
{
    g_string_append_printf(out,
                           "__asm__(\".global uvk_this_half\\n\"\n"
                           "        \".set uvk_this_half, uvk_keymap_image+%zu\\n\");\n",
                           size + strlen(note) - 1);
}

/* The keymap as a C file. */
static char *image_text(const struct uvk_image *image, uint16_t size,
                        const struct uvk_program *program)
{
    GString *out = g_string_new("#include \"uvrek/image.h\"\n"
                                "extern const UVK_ROM uint8_t uvk_keymap_image[];\n"
                                "extern const UVK_ROM uint16_t uvk_keymap_image_size;\n"
                                "extern const UVK_ROM uint16_t uvk_keymap_note_size;\n"
                                "const UVK_ROM uint8_t uvk_keymap_image[] = {");

    char *note = note_text(program);

    for (unsigned i = 0; i < size; i++) {
        g_string_append_printf(out, "%s%u,", i % 20 == 0 ? "\n" : "", image->bytes[i]);
    }
    append_note(out, note);
    g_string_append_printf(out,
                           "};\nconst UVK_ROM uint16_t uvk_keymap_image_size = %u;\n"
                           "const UVK_ROM uint16_t uvk_keymap_note_size = %zu;\n",
                           size, strlen(note) + 1);
    append_symbols(out, image);
    if (!uvk_one_controller(program->board)) {
        append_half(out, size, note);
    }
    g_free(note);
    return g_string_free(out, FALSE);
}

/* Engine and port as one object; its name, NULL: *ERROR. */
static char *compile_code(struct compiler *compiler, GError **error)
{
    GPtrArray *files = sources_list(compiler, error);
    GPtrArray *objects = g_ptr_array_new_with_free_func(g_free);
    char *joined = NULL;
    char *near = NULL;
    bool well = files != NULL;

    for (guint i = 0; well && i < files->len; i++) {
        char *object = compiler_object(compiler, g_ptr_array_index(files, i), NULL, error);
        well = object != NULL;
        g_ptr_array_add(objects, object);
    }
    if (well) {
        g_ptr_array_add(objects, NULL);
        joined = compiler_join(compiler, (char **)objects->pdata, error);
    }
    if (joined != NULL) {
        near = compiler_near(compiler, joined, error);
    }
    g_free(joined);
    g_ptr_array_free(objects, TRUE);
    g_clear_pointer(&files, g_ptr_array_unref);
    return near;
}

/* Compile and link; the ELF file, NULL: *ERROR. */
static char *make_elf(struct compiler *compiler, const char *image, bool *linked,
                      GError **error)
{
    char *code = compile_code(compiler, error);
    char *keymap = code != NULL ? compiler_object(compiler, NULL, image, error) : NULL;
    char *objects[] = {keymap, code, NULL};
    char *elf = keymap != NULL ? compiler_link(compiler, objects, linked, error) : NULL;

    g_free(code);
    g_free(keymap);
    return elf;
}

/* More than can be taken, for what a later change of the port forgets. */
#define STACK_MARGIN 16u

static void take_stack(struct uvk_firmware *firmware, const struct uvk_chip *chip)
{
    unsigned most =
        chip->vectors > 0 ? stack_most(firmware->code, firmware->size, chip->vectors) : 0;

    firmware->stack = most > 0 ? most + STACK_MARGIN : chip->stack;
}

/* Build, and look at what came out. */
static bool make(struct compiler *compiler, const char *image, struct uvk_firmware *firmware,
                 GError **error)
{
    char *map;

    firmware->elf = make_elf(compiler, image, &firmware->linked, error);
    if (firmware->elf == NULL || !elf_read(firmware->elf, compiler->chip, firmware, error)) {
        return false;
    }
    map = g_strdup_printf("%.*s.map", (int)(strlen(firmware->elf) - strlen(".elf")),
                          firmware->elf);
    firmware->parts = sizes_read(map, compiler->chip, error);
    take_stack(firmware, compiler->chip);
    g_free(map);
    firmware->compiled = compiler->compiled;
    return firmware->parts != NULL;
}

static bool fits(const struct uvk_firmware *firmware, const struct uvk_chip *chip,
                 GError **error)
{
    size_t ram = firmware->ram_used + firmware->stack;

    if (firmware->size > firmware->flash_room) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "the firmware takes %zu bytes of flash, the %s has %zu before its "
                    "bootloader: %zu too many",
                    firmware->size, chip->title, firmware->flash_room,
                    firmware->size - firmware->flash_room);
        return false;
    }
    if (ram > firmware->ram_room) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "the firmware takes %zu bytes of RAM and %zu of stack, the %s has %zu: %zu "
                    "too many",
                    firmware->ram_used, firmware->stack, chip->title, firmware->ram_room,
                    ram - firmware->ram_room);
        return false;
    }
    return true;
}

static void take_sizes(struct uvk_firmware *firmware, const struct uvk_program *program,
                       uint32_t features)
{
    const struct uvk_chip *chip = program->board->chip;
    bool kept = keeps_something(program, features) && chip->memory_in_flash;

    firmware->flash_room = chip->flash - chip->bootloader - (kept ? 2u * chip->bank : 0u);
    firmware->ram_room = chip->ram;
}

static struct uvk_firmware *new_firmware(void)
{
    struct uvk_firmware *firmware = g_new0(struct uvk_firmware, 1);

    firmware->files = forms_none();
    return firmware;
}

/* With what the keymap needs, less GONE, and MORE. */
static struct uvk_firmware *build_with(struct uvk_program *program, const char *cache,
                                       uint32_t gone, uint32_t more, GError **error)
{
    const struct uvk_chip *chip = program->board->chip;
    struct uvk_firmware *firmware = new_firmware();
    struct compiler compiler;
    struct uvk_image opened;
    uint16_t size;
    uint8_t *image = uvk_lower(program, &size);
    uint32_t features;
    char *text;
    bool well;

    if (image == NULL || uvk_image_open(&opened, image, size) != UVK_OK) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_WELL, "the keymap is too large");
        g_free(image);
        uvk_firmware_free(firmware);
        return NULL;
    }
    features = (features_of(&opened) & ~gone) | more;
    take_sizes(firmware, program, features);
    text = image_text(&opened, size, program);
    well =
        compiler_open(&compiler, chip, cache, config_text(program, &opened, features), error) &&
        make(&compiler, text, firmware, error);
    compiler_close(&compiler);
    g_free(text);
    g_free(image);
    if (!well) {
        g_clear_pointer(&firmware, uvk_firmware_free);
    }
    return firmware;
}

struct uvk_firmware *build_without(struct uvk_program *program, const char *cache,
                                   uint32_t gone, GError **error)
{
    return build_with(program, cache, gone, 0, error);
}

struct uvk_firmware *uvk_build_of_any_size(struct uvk_program *program,
                                           const struct uvk_build_options *options,
                                           GError **error)
{
    return build_without(program, options->cache, 0, error);
}

/* It has to fit, and its files are written. NULL: *ERROR. */
static struct uvk_firmware *finish(struct uvk_firmware *firmware,
                                   const struct uvk_program *program,
                                   const struct uvk_build_options *options, GError **error)
{
    if (firmware != NULL &&
        (!fits(firmware, program->board->chip, error) ||
         (options->folder != NULL && !forms_write(firmware, program->board, options, error)))) {
        g_clear_pointer(&firmware, uvk_firmware_free);
    }
    return firmware;
}

struct uvk_firmware *uvk_build(struct uvk_program *program,
                               const struct uvk_build_options *options, GError **error)
{
    return finish(uvk_build_of_any_size(program, options, error), program, options, error);
}

struct uvk_firmware *build_probe(struct uvk_program *program,
                                 const struct uvk_build_options *options, GError **error)
{
    return finish(build_with(program, options->cache, 0, FEATURE_BIT(FEATURE_PROBE), error),
                  program, options, error);
}

void uvk_firmware_free(struct uvk_firmware *firmware)
{
    if (firmware == NULL) {
        return;
    }
    g_clear_pointer(&firmware->parts, g_array_unref);
    g_free(firmware->code);
    g_free(firmware->elf);
    g_ptr_array_unref(firmware->files);
    g_free(firmware);
}
