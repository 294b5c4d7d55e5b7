/* symbols.c - where the program has its variables, by the ELF file it came from. */
#include "chipsim.h"

#include <fcntl.h>
#include <gelf.h>
#include <string.h>
#include <unistd.h>

static uint32_t symbol_in(Elf *elf, const char *name)
{
    Elf_Scn *section = NULL;

    while ((section = elf_nextscn(elf, section)) != NULL) {
        GElf_Shdr header;
        Elf_Data *data;
        if (gelf_getshdr(section, &header) == NULL || header.sh_type != SHT_SYMTAB ||
            header.sh_entsize == 0) {
            continue;
        }
        data = elf_getdata(section, NULL);
        for (int i = 0; data != NULL && i < (int)(header.sh_size / header.sh_entsize); i++) {
            GElf_Sym symbol;
            const char *text;
            if (gelf_getsym(data, i, &symbol) == NULL) {
                continue;
            }
            text = elf_strptr(elf, header.sh_link, symbol.st_name);
            if (text != NULL && strcmp(text, name) == 0) {
                return (uint32_t)symbol.st_value;
            }
        }
    }
    return 0;
}

uint32_t symbol_address(const struct sim *sim, const char *name)
{
    int file = sim->symbols_path != NULL ? open(sim->symbols_path, O_RDONLY) : -1;
    Elf *elf;
    uint32_t address = 0;

    (void)elf_version(EV_CURRENT);
    elf = file >= 0 ? elf_begin(file, ELF_C_READ, NULL) : NULL;
    if (elf != NULL) {
        address = symbol_in(elf, name);
        elf_end(elf);
    }
    if (file >= 0) {
        close(file);
    }
    return address;
}
