/* forms.c - the files that carry a firmware, each in the form that its takers want. */
#include "parts.h"

#include "uvrek/files.h"

#include <errno.h>
#include <string.h>

struct contents {
    void *bytes; /* freed with g_free */
    size_t size;
};

static bool make_hex(const struct uvk_firmware *firmware, const struct uvk_chip *chip,
                     struct contents *contents, GError **error)
{
    (void)chip;
    (void)error;
    contents->bytes = uvk_hex_write(firmware->code, firmware->size);
    contents->size = strlen(contents->bytes);
    return true;
}

static bool make_uf2(const struct uvk_firmware *firmware, const struct uvk_chip *chip,
                     struct contents *contents, GError **error)
{
    (void)error;
    contents->bytes = uvk_uf2_write(firmware->code, firmware->size, chip->flash_at,
                                    chip->uf2_family, &contents->size);
    return true;
}

static bool make_bin(const struct uvk_firmware *firmware, const struct uvk_chip *chip,
                     struct contents *contents, GError **error)
{
    (void)chip;
    (void)error;
    contents->bytes = g_memdup2(firmware->code, firmware->size);
    contents->size = firmware->size;
    return true;
}

static bool read_elf(const struct uvk_firmware *firmware, const struct uvk_chip *chip,
                     struct contents *contents, GError **error)
{
    char *bytes = NULL;
    bool well = g_file_get_contents(firmware->elf, &bytes, &contents->size, error);

    (void)chip;
    contents->bytes = bytes;
    return well;
}

static bool takes_uf2(const struct uvk_chip *chip)
{
    return chip->uf2_family != 0;
}

static bool takes_hex(const struct uvk_chip *chip)
{
    return chip->uf2_family == 0;
}

static const struct form {
    const char *name;
    bool (*fits)(const struct uvk_chip *); /* NULL: all chips */
    bool (*make)(const struct uvk_firmware *, const struct uvk_chip *, struct contents *,
                 GError **);
} forms[] = {
    {"hex", takes_hex, make_hex},
    {"uf2", takes_uf2, make_uf2},
    {"bin", NULL, make_bin},
    {"elf", NULL, read_elf},
};

static void free_file(gpointer data)
{
    struct uvk_file *file = data;

    g_free(file->path);
    g_free(file);
}

GPtrArray *forms_none(void)
{
    return g_ptr_array_new_with_free_func(free_file);
}

/* Make CONTENTS those of HALF; -1: leave them as they are. */
static bool set_half(struct contents *contents, int half, GError **error)
{
    if (half < 0 || uvk_set_half(contents->bytes, contents->size, half)) {
        return true;
    }
    g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                        "the firmware has no note of its half");
    return false;
}

/* The forms that are made of the code have the half already; the ELF file has it in itself. */
static bool write_form(struct uvk_firmware *firmware, const struct uvk_board *board,
                       const struct form *form, const char *base, int half, GError **error)
{
    struct uvk_file *file = g_new(struct uvk_file, 1);
    struct contents contents = {NULL, 0};
    bool well;

    *file = (struct uvk_file){form->name, half >= 0 ? board->halves[half].name : NULL,
                              g_strdup_printf("%s.%s", base, form->name)};
    g_ptr_array_add(firmware->files, file);
    well = form->make(firmware, board->chip, &contents, error) &&
           (form->make != read_elf || set_half(&contents, half, error)) &&
           uvk_file_write(file->path, contents.bytes, contents.size, error);
    g_free(contents.bytes);
    return well;
}

static bool write_forms(struct uvk_firmware *firmware, const struct uvk_board *board,
                        const char *base, int half, GError **error)
{
    bool well = true;

    for (size_t i = 0; well && i < G_N_ELEMENTS(forms); i++) {
        if (forms[i].fits == NULL || forms[i].fits(board->chip)) {
            well = write_form(firmware, board, &forms[i], base, half, error);
        }
    }
    return well;
}

static bool write_half(struct uvk_firmware *firmware, const struct uvk_board *board,
                       const char *base, int half, GError **error)
{
    char *named = g_strconcat(base, "-", board->halves[half].name, NULL);
    bool well = uvk_set_half(firmware->code, firmware->size, half) &&
                write_forms(firmware, board, named, half, error);

    g_free(named);
    return well;
}

static bool make_folder(const char *folder, GError **error)
{
    if (g_mkdir_with_parents(folder, 0777) == 0) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot make the folder %s: %s", folder,
                g_strerror(errno));
    return false;
}

bool forms_write(struct uvk_firmware *firmware, const struct uvk_board *board,
                 const struct uvk_build_options *options, GError **error)
{
    bool here = strcmp(options->folder, ".") == 0;
    char *base =
        here ? g_strdup(options->name) : g_build_filename(options->folder, options->name, NULL);
    bool well = make_folder(options->folder, error);

    if (!uvk_two_files(board)) {
        well = well && write_forms(firmware, board, base, -1, error);
    } else {
        for (int half = 0; well && half < (int)UVK_HALVES; half++) {
            well = write_half(firmware, board, base, half, error);
        }
        (void)uvk_set_half(firmware->code, firmware->size, -1);
    }
    g_free(base);
    return well;
}
