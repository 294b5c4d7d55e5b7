/* carried.c - a file with machine code, whatever its form, and what the code says of itself. */
#include "suffix.h"

#include <gelf.h>
#include <string.h>

/* avr-gcc keeps RAM and EEPROM there; neither is flash. */
#define AVR_NOT_FLASH 0x800000u
#define EM_AVR_OLD    83u

static bool fail(GError **error, const char *what)
{
    g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_WELL, what);
    return false;
}

/* ---- ELF -------------------------------------------------------------------------------- */

static bool is_loaded(const GElf_Phdr *segment, uint32_t machine)
{
    return segment->p_type == PT_LOAD && segment->p_filesz > 0 &&
           (machine != EM_AVR_OLD || segment->p_paddr < AVR_NOT_FLASH);
}

/* The addresses from the first byte that is loaded to behind the last one. */
static bool find_span(Elf *elf, size_t count, uint32_t machine, uint64_t span[2])
{
    span[0] = UINT64_MAX;
    span[1] = 0;
    for (size_t i = 0; i < count; i++) {
        GElf_Phdr segment;
        if (gelf_getphdr(elf, (int)i, &segment) == NULL) {
            return false;
        }
        if (is_loaded(&segment, machine)) {
            if (segment.p_filesz > UVK_CARRIED_MOST || segment.p_paddr > UINT32_MAX) {
                return false;
            }
            span[0] = MIN(span[0], segment.p_paddr);
            span[1] = MAX(span[1], segment.p_paddr + segment.p_filesz);
        }
    }
    return span[0] < span[1] && span[1] - span[0] <= UVK_CARRIED_MOST;
}

static bool copy_segments(Elf *elf, size_t count, const char *file, size_t size,
                          struct uvk_carried *carried)
{
    for (size_t i = 0; i < count; i++) {
        GElf_Phdr segment;
        if (gelf_getphdr(elf, (int)i, &segment) == NULL) {
            return false;
        }
        if (!is_loaded(&segment, carried->machine)) {
            continue;
        }
        if (segment.p_offset > size || segment.p_filesz > size - segment.p_offset) {
            return false;
        }
        memcpy(carried->bytes + (segment.p_paddr - carried->address), file + segment.p_offset,
               (size_t)segment.p_filesz);
    }
    return true;
}

static bool take_elf(Elf *elf, const char *file, size_t size, struct uvk_carried *carried)
{
    GElf_Ehdr header;
    size_t count = 0;
    uint64_t span[2];

    if (gelf_getehdr(elf, &header) == NULL || elf_getphdrnum(elf, &count) != 0) {
        return false;
    }
    carried->machine = header.e_machine;
    if (!find_span(elf, count, carried->machine, span)) {
        return false;
    }
    carried->address = (uint32_t)span[0];
    carried->size = (size_t)(span[1] - span[0]);
    carried->bytes = g_malloc(carried->size);
    memset(carried->bytes, 0xFF, carried->size);
    return copy_segments(elf, count, file, size, carried);
}

static bool read_elf(char *file, size_t size, struct uvk_carried *carried, GError **error)
{
    Elf *elf;
    bool good;

    (void)elf_version(EV_CURRENT);
    elf = elf_memory(file, size);
    good = elf != NULL && take_elf(elf, file, size, carried);
    (void)elf_end(elf);
    return good || fail(error, "the ELF file is cut or damaged, or loads nothing");
}

/* ---- the others
 * ------------------------------------------------------------------------------- */

static bool read_hex(char *file, size_t size, struct uvk_carried *carried, GError **error)
{
    (void)size;
    carried->bytes = uvk_hex_read(file, UVK_CARRIED_MOST, &carried->size, error);
    return carried->bytes != NULL;
}

static bool read_uf2(char *file, size_t size, struct uvk_carried *carried, GError **error)
{
    struct uvk_uf2 uf2;

    if (!uvk_uf2_read((const uint8_t *)file, size, UVK_CARRIED_MOST, &uf2, error)) {
        return false;
    }
    carried->bytes = uf2.bytes;
    carried->size = uf2.size;
    carried->address = uf2.address;
    carried->family = uf2.family;
    return true;
}

static bool read_dfu(char *file, size_t size, struct uvk_carried *carried, GError **error)
{
    struct suffix suffix;

    if (size > UVK_CARRIED_MOST || !suffix_read(file, size, &suffix, error)) {
        return size <= UVK_CARRIED_MOST ? false : fail(error, "the file is too large");
    }
    carried->vendor = suffix.vendor;
    carried->product = suffix.product;
    carried->size = size - suffix.size;
    carried->bytes = g_memdup2(file, carried->size);
    return true;
}

static bool read_bin(char *file, size_t size, struct uvk_carried *carried, GError **error)
{
    if (size == 0 || size > UVK_CARRIED_MOST) {
        return fail(error, size == 0 ? "the file is empty" : "the file is too large");
    }
    carried->bytes = g_memdup2(file, size);
    carried->size = size;
    return true;
}

/* By their first bytes, one by its last; what begins otherwise is bytes. */
static const struct form {
    const char *name, *begin;
    bool (*read)(char *file, size_t size, struct uvk_carried *, GError **);
} forms[] = {
    {"hex", ":", read_hex},
    {"uf2", "UF2\n", read_uf2},
    {"elf", "\177ELF", read_elf},
    {"bin", "", read_bin},
};
static const struct form form_with_suffix = {"dfu", "", read_dfu};

static const struct form *form_of(const char *file, size_t size)
{
    const struct form *form = forms;

    if (suffix_is_there(file, size)) {
        return &form_with_suffix;
    }
    while (size < strlen(form->begin) || memcmp(file, form->begin, strlen(form->begin)) != 0) {
        form++;
    }
    return form;
}

bool uvk_carried_take(char *file, size_t size, struct uvk_carried *carried, GError **error)
{
    const struct form *form = form_of(file, size);
    bool good;

    memset(carried, 0, sizeof *carried);
    carried->form = form->name;
    good = form->read(file, size, carried, error);
    if (!good) {
        g_clear_pointer(&carried->bytes, g_free);
    }
    return good;
}

bool uvk_carried_read(const char *path, struct uvk_carried *carried, GError **error)
{
    char *file = NULL;
    gsize size = 0;
    bool good;

    memset(carried, 0, sizeof *carried);
    if (!g_file_get_contents(path, &file, &size, error)) {
        return false;
    }
    good = uvk_carried_take(file, size, carried, error);
    if (!good) {
        g_prefix_error(error, "%s: ", path);
    }
    g_free(file);
    return good;
}

/* ---- the note
 * ------------------------------------------------------------------------------------ */

/* A word of printable characters, and what stands behind it, a blank or a zero; where that is,
 * NULL: it is none. */
static const uint8_t *take_word(const uint8_t *at, const uint8_t *end, char *out, size_t room)
{
    size_t length = 0;

    while (at + length < end && at[length] > ' ' && at[length] != 0x7F && length + 1 < room) {
        length++;
    }
    if (length == 0 || at + length >= end || (at[length] != ' ' && at[length] != '\0')) {
        return NULL;
    }
    memcpy(out, at, length);
    out[length] = '\0';
    return at + length;
}

/* What stands behind a blank at AT; NULL: there is none. */
static const uint8_t *after_blank(const uint8_t *at)
{
    return at != NULL && *at == ' ' ? at + 1 : NULL;
}

/* Behind the keymap, a blank, a half and a zero, or just the zero. */
static bool read_half(const uint8_t *at, const uint8_t *start, const uint8_t *end,
                      struct uvk_note *note)
{
    if (*at == '\0') {
        return true;
    }
    if (at + 2 >= end || at[2] != '\0' ||
        strchr((const char[]){UVK_HALF_ANY, UVK_HALF_FIRST, UVK_HALF_SECOND, '\0'}, at[1]) ==
            NULL ||
        at[1] == '\0') {
        return false;
    }
    note->half = (char)at[1];
    note->half_at = (size_t)(at + 1 - start);
    return true;
}

static bool read_note(const uint8_t *start, const uint8_t *at, const uint8_t *end,
                      struct uvk_note *note)
{
    const struct {
        char *out;
        size_t room;
    } words[] = {{note->version, sizeof note->version},
                 {note->chip, sizeof note->chip},
                 {note->board, sizeof note->board},
                 {note->keymap, sizeof note->keymap}};

    memset(note, 0, sizeof *note);
    if (!g_ascii_isdigit(*at)) {
        return false;
    }
    for (size_t i = 0; at != NULL && i < G_N_ELEMENTS(words); i++) {
        at = i > 0 ? after_blank(at) : at;
        at = at != NULL ? take_word(at, end, words[i].out, words[i].room) : NULL;
    }
    return at != NULL && read_half(at, start, end, note);
}

bool uvk_note_find(const uint8_t *bytes, size_t size, struct uvk_note *note)
{
    const size_t mark = strlen(UVK_NOTE_MARK);

    for (size_t at = 0; at + mark < size; at++) {
        if (memcmp(bytes + at, UVK_NOTE_MARK, mark) == 0 &&
            read_note(bytes, bytes + at + mark, bytes + size, note)) {
            return true;
        }
    }
    memset(note, 0, sizeof *note);
    return false;
}
