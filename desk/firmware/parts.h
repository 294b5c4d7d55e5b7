/* parts.h - the doors between the files of this room. */
#ifndef UVREK_FIRMWARE_PARTS_H
#define UVREK_FIRMWARE_PARTS_H

#include "uvrek/firmware.h"

/* ---- process.c ---- */

/* Run COMMAND (NULL-terminated) in FOLDER (NULL: here), for SECONDS at the most; its own files
 * go to TEMPORARY (NULL: where they usually do). What it printed into *OUTPUT, freed with
 * g_free; NULL: it did not start. False: it failed, and then *ERROR may say why. */
bool process_run(const char *const *command, const char *folder, const char *temporary,
                 unsigned seconds, char **output, GError **error);

/* ---- kept.c: files that are kept from one build to the next ---- */

/* Is PATH there, and what was written? */
bool kept_is_good(const char *path);
/* MADE, which is whole, becomes PATH, and its sum is noted. */
bool kept_take(const char *made, const char *path, GError **error);
/* PATH holds TEXT. */
bool kept_text(const char *path, const char *text, GError **error);
/* A folder in CACHE for what is being made; those of builds that were killed go. */
char *kept_work_folder(const char *cache, GError **error);
void kept_remove_folder(const char *path);

/* ---- build.c ---- */

/* The firmware without the features GONE (bits, see features.h), whatever its size; its image
 * may then ask for what is not there. NULL: *ERROR. */
struct uvk_firmware *build_without(struct uvk_program *program, const char *cache,
                                   uint32_t gone, GError **error);

/* As uvk_build: a firmware that learns the wiring, of a PROGRAM that wires every pin. */
struct uvk_firmware *build_probe(struct uvk_program *program,
                                 const struct uvk_build_options *options, GError **error);

/* ---- forms.c ---- */

/* No file is written yet. */
GPtrArray *forms_none(void);
/* Write all files that the bootloaders of CHIP take, and those for debuggers. */
bool forms_write(struct uvk_firmware *firmware, const struct uvk_board *board,
                 const struct uvk_build_options *options, GError **error);

/* ---- compile.c ---- */

struct compiler {
    const struct uvk_chip *chip;
    char *sources;     /* folder */
    char *cache;       /* folder; the compiler runs in it, so that it sees plain names only */
    char *work;        /* folder in it, for what is being made */
    char *identity;    /* the compiler's version and the flags, for the hashes */
    char *headers;     /* hash of all headers */
    char *config;      /* text of the configuration header */
    char *config_name; /* of its file in the cache */
    unsigned compiled;
};

/* Find the compiler and prepare the cache. */
bool compiler_open(struct compiler *compiler, const struct uvk_chip *chip, const char *cache,
                   char *config, GError **error);
void compiler_close(struct compiler *compiler);

/* Compile FILE of the source folder, or, if it is NULL, TEXT, the keymap. The name of the
 * object in the cache, or NULL. */
char *compiler_object(struct compiler *compiler, const char *file, const char *text,
                      GError **error);

/* Compile OBJECTS (NULL-terminated) of engine and port as a whole, into one that is kept. Its
 * name in the cache, or NULL. */
char *compiler_join(struct compiler *compiler, char **objects, GError **error);

/* WHOLE, what was joined, with its functions in an order that makes calls short, where the chip
 * has short ones. The name of the object in the cache, or NULL. */
char *compiler_near(struct compiler *compiler, const char *whole, GError **error);

/* Link OBJECTS (NULL-terminated). The path of the ELF file; beside it is its map. */
char *compiler_link(struct compiler *compiler, char **objects, bool *linked, GError **error);

/* ---- near.c ---- */

/* A linker script that puts the functions of OBJECT, each of which has a section, in an order
 * in which few calls are far for CHIP. Freed with g_free. NULL: *ERROR. */
char *near_script(const char *object, const struct uvk_chip *chip, GError **error);

/* ---- sources.c ---- */

/* The files of engine and port that the configuration asks for, as the source folder has
 * them. Freed with g_ptr_array_unref. NULL: *ERROR. */
GPtrArray *sources_list(const struct compiler *compiler, GError **error);

/* ---- elf.c ---- */

/* What an ELF file puts into flash from address 0 on, and how much RAM it takes. */
bool elf_read(const char *path, const struct uvk_chip *chip, struct uvk_firmware *firmware,
              GError **error);

/* ---- stack.c ---- */

/* Bytes of stack that AVR machine code takes at the most, with the deepest of the interrupts
 * whose VECTORS (4 bytes each) stand first in it. 0: it cannot be told. */
unsigned stack_most(const uint8_t *code, size_t size, unsigned vectors);

/* ---- sizes.c ---- */

/* Which part of the firmware takes what, from the linker's map. */
GArray *sizes_read(const char *map_path, const struct uvk_chip *chip, GError **error);

#endif
