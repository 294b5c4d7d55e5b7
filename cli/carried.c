/* carried.c - which chip a file is for, what it says of itself, and whether it fits. */
#include "carried.h"

#include <stdio.h>
#include <string.h>

bool is_carried(const char *path)
{
    static const char *const endings[] = {".hex", ".uf2", ".elf", ".bin", ".dfu"};

    for (size_t i = 0; i < G_N_ELEMENTS(endings); i++) {
        if (g_str_has_suffix(path, endings[i])) {
            return true;
        }
    }
    return false;
}

/* The form says so: its family, its machine, the bootloader's ids, or for HEX that only one
 * chip takes that. */
static bool is_for(const struct uvk_carried *file, const struct uvk_chip *chip)
{
    if (file->vendor != 0) {
        return file->vendor == chip->dfu_vendor && file->product == chip->dfu_product;
    }
    return file->family != 0    ? file->family == chip->uf2_family
           : file->machine != 0 ? file->machine == chip->machine
                                : strcmp(file->form, "hex") == 0 && chip->uf2_family == 0;
}

static const struct uvk_chip *chip_by_form(const struct uvk_carried *file)
{
    size_t count;
    const struct uvk_chip *const *chips = uvk_chips(&count);

    for (size_t i = 0; i < count; i++) {
        if (is_for(file, chips[i])) {
            return chips[i];
        }
    }
    return NULL;
}

/* What two say has to be the same. */
static bool agree(const struct carried *carried, const struct uvk_chip *other, const char *who,
                  GError **error)
{
    if (carried->chip == NULL || other == NULL || carried->chip == other) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL, "the file is for the %s, %s the %s",
                carried->chip->title, who, other->title);
    return false;
}

static bool find_chip(struct carried *carried, const char *named, GError **error)
{
    const struct uvk_chip *noted = carried->noted ? uvk_chip_named(carried->note.chip) : NULL;
    const struct uvk_chip *asked = named != NULL ? uvk_chip_named(named) : NULL;

    if (named != NULL && asked == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "there is no chip '%s' here", named);
        return false;
    }
    carried->chip = chip_by_form(&carried->file);
    if (!agree(carried, noted, "what is in it says", error)) {
        return false;
    }
    carried->chip = carried->chip != NULL ? carried->chip : noted;
    if (!agree(carried, asked, "--chip says", error)) {
        return false;
    }
    carried->chip = carried->chip != NULL ? carried->chip : asked;
    return true;
}

bool carried_read(const char *path, const char *named, struct carried *carried, GError **error)
{
    memset(carried, 0, sizeof *carried);
    if (!uvk_carried_read(path, &carried->file, error)) {
        return false;
    }
    carried->noted = uvk_note_find(carried->file.bytes, carried->file.size, &carried->note);
    if (!find_chip(carried, named, error)) {
        carried_clear(carried);
        return false;
    }
    return true;
}

void carried_clear(struct carried *carried)
{
    g_clear_pointer(&carried->file.bytes, g_free);
}

/* Files without addresses begin where flash does. */
static uint32_t address_of(const struct carried *carried)
{
    bool plain =
        strcmp(carried->file.form, "bin") == 0 || strcmp(carried->file.form, "dfu") == 0;

    return plain && carried->chip != NULL ? carried->chip->flash_at : carried->file.address;
}

uint8_t *carried_code(const struct carried *carried, size_t *size, GError **error)
{
    const struct uvk_chip *chip = carried->chip;
    uint64_t first = address_of(carried);
    uint64_t end = first + carried->file.size;
    uint64_t room = (uint64_t)chip->flash - chip->bootloader;
    size_t before;
    uint8_t *code;

    if (first < chip->flash_at || first >= (uint64_t)chip->flash_at + chip->flash) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "the file begins at 0x%08x, where the %s has no flash", (unsigned)first,
                    chip->title);
        return NULL;
    }
    if (end > chip->flash_at + room) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "the file reaches to 0x%08x; the %s has flash up to 0x%08x%s",
                    (unsigned)(end - 1), chip->title, (unsigned)(chip->flash_at + room - 1),
                    chip->bootloader > 0 ? ", and then its bootloader" : "");
        return NULL;
    }
    before = (size_t)(first - chip->flash_at);
    *size = before + carried->file.size;
    code = g_malloc(*size);
    memset(code, 0xFF, before);
    memcpy(code + before, carried->file.bytes, carried->file.size);
    return code;
}

static void print_fit(const struct carried *carried)
{
    const struct uvk_chip *chip = carried->chip;
    GError *error = NULL;
    size_t size = 0;
    uint8_t *code = carried_code(carried, &size, &error);

    if (code != NULL) {
        printf("  it fits: %s of the flash\n", share(size, chip->flash - chip->bootloader));
    } else {
        printf("  it does not fit: %s\n", error->message);
        g_error_free(error);
    }
    g_free(code);
}

/* Of a board with a controller in each half. */
static const char *half_text(char half)
{
    return half == UVK_HALF_FIRST    ? ", first half"
           : half == UVK_HALF_SECOND ? ", second half"
           : half == UVK_HALF_ANY    ? ", for both halves"
                                     : "";
}

void carried_print(const struct carried *carried, const char *path)
{
    const struct uvk_chip *chip = carried->chip;
    uint32_t first = address_of(carried);
    char *form = g_ascii_strup(carried->file.form, -1);

    printf("%s: %s, %s bytes from 0x%08x to 0x%08x, for %s%s\n", path, form,
           thousands(carried->file.size), first, (unsigned)(first + carried->file.size - 1),
           chip != NULL ? "the " : "a chip that nothing in it tells",
           chip != NULL ? chip->title : "");
    if (carried->file.vendor != 0) {
        printf("  for the DFU bootloader %04x:%04x\n", carried->file.vendor,
               carried->file.product);
    }
    if (carried->noted) {
        printf("  Uvrek %s: the keymap %s for the board %s%s\n", carried->note.version,
               carried->note.keymap, carried->note.board, half_text(carried->note.half));
    } else {
        puts("  it says nothing of itself: Uvrek did not make it, or it is damaged");
    }
    if (chip != NULL) {
        print_fit(carried);
    }
    g_free(form);
}
