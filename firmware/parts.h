/* parts.h - the doors between the files of this room. */
#ifndef UVREK_FIRMWARE_PARTS_H
#define UVREK_FIRMWARE_PARTS_H

#include "uvrek/firmware.h"

/* ---- compile.c ---- */

struct compiler {
    const struct uvk_chip *chip;
    char *sources;  /* folder */
    char *cache;    /* folder */
    char *identity; /* the compiler's version and the flags, for the hashes */
    char *headers;  /* hash of all headers */
    char *config;   /* text of the configuration header */
    char *config_path;
    unsigned compiled;
};

/* Find the compiler and prepare the cache. */
bool compiler_open(struct compiler *compiler, const struct uvk_chip *chip, const char *cache,
                   char *config, GError **error);
void compiler_close(struct compiler *compiler);

/* Compile a file of the source folder, or TEXT if it is not NULL, under the name LABEL.
 * The path of the object, or NULL. */
char *compiler_object(struct compiler *compiler, const char *file, const char *text,
                      const char *label, GError **error);

/* Link OBJECTS (NULL-terminated). The path of the ELF file; beside it is its map. */
char *compiler_link(struct compiler *compiler, char **objects, bool *linked, GError **error);

/* ---- elf.c ---- */

/* What an ELF file puts into flash from address 0 on, and how much RAM it takes. */
bool elf_read(const char *path, const struct uvk_chip *chip, struct uvk_firmware *firmware,
              GError **error);

/* ---- sizes.c ---- */

/* Which part of the firmware takes what, from the linker's map. */
GArray *sizes_read(const char *map_path, GError **error);

#endif
