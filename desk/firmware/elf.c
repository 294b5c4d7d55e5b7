/* elf.c - what a linked file puts where. */
#include "parts.h"

#include <fcntl.h>
#include <gelf.h>
#include <string.h>
#include <unistd.h>

/* More than there is, so that what is too large shows as that; less than to the next memory. */
#define FLASH_MOST 0x800000u
#define RAM_MOST   0x100000u

static bool is_ram(const struct uvk_chip *chip, GElf_Addr address)
{
    return address >= chip->ram_at && address < (GElf_Addr)chip->ram_at + RAM_MOST;
}

static bool is_flash(const struct uvk_chip *chip, GElf_Addr address)
{
    return address >= chip->flash_at && address < (GElf_Addr)chip->flash_at + FLASH_MOST;
}

/* Copy every loaded segment to its place in flash. */
static bool read_segments(Elf *elf, const struct uvk_chip *chip, const uint8_t *file,
                          size_t file_size, struct uvk_firmware *firmware)
{
    size_t count = 0;

    if (elf_getphdrnum(elf, &count) != 0) {
        return false;
    }
    for (size_t i = 0; i < count; i++) {
        GElf_Phdr segment;
        size_t at;
        size_t end;
        if (gelf_getphdr(elf, (int)i, &segment) == NULL) {
            return false;
        }
        if (segment.p_type != PT_LOAD || segment.p_filesz == 0 ||
            !is_flash(chip, segment.p_paddr)) {
            continue;
        }
        at = (size_t)(segment.p_paddr - chip->flash_at);
        if (segment.p_filesz > FLASH_MOST - at || segment.p_offset > file_size ||
            segment.p_filesz > file_size - segment.p_offset) {
            return false;
        }
        end = at + (size_t)segment.p_filesz;
        if (end > firmware->size) {
            firmware->code = g_realloc(firmware->code, end);
            memset(firmware->code + firmware->size, 0xFF, end - firmware->size);
            firmware->size = end;
        }
        memcpy(firmware->code + at, file + segment.p_offset, (size_t)segment.p_filesz);
    }
    return firmware->size > 0;
}

static size_t ram_of_sections(Elf *elf, const struct uvk_chip *chip)
{
    Elf_Scn *section = NULL;
    size_t sum = 0;

    while ((section = elf_nextscn(elf, section)) != NULL) {
        GElf_Shdr header;
        if (gelf_getshdr(section, &header) != NULL && (header.sh_flags & SHF_ALLOC) &&
            is_ram(chip, header.sh_addr)) {
            sum += (size_t)header.sh_size;
        }
    }
    return sum;
}

bool elf_read(const char *path, const struct uvk_chip *chip, struct uvk_firmware *firmware,
              GError **error)
{
    int file = open(path, O_RDONLY | O_CLOEXEC);
    Elf *elf = NULL;
    size_t size = 0;
    char *bytes;
    bool good = false;

    (void)elf_version(EV_CURRENT);
    if (file >= 0) {
        elf = elf_begin(file, ELF_C_READ, NULL);
    }
    bytes = elf != NULL ? elf_rawfile(elf, &size) : NULL;
    if (bytes != NULL) {
        good = read_segments(elf, chip, (const uint8_t *)bytes, size, firmware);
        firmware->ram_used = ram_of_sections(elf, chip);
    }
    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s is no firmware for the %s", path,
                    chip->title);
    }
    (void)elf_end(elf);
    if (file >= 0) {
        (void)close(file);
    }
    return good;
}
