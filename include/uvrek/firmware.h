/* firmware.h - from a program to machine code for its chip, and the files that carry it.
 *
 * 1. uvk_build compiles engine, port and image with the chip's compiler. Objects are kept
 *    by the hash of everything that went into them, so only what changed is compiled.
 * 2. What the keymap does not use is not compiled: the configuration is derived from the
 *    image.
 * 3. Files are written whole or not at all.
 */
#ifndef UVREK_FIRMWARE_H
#define UVREK_FIRMWARE_H

#include "uvrek/formats.h"
#include "uvrek/problem.h"
#include "uvrek/text.h"

#ifdef __cplusplus
extern "C" {
#endif

/* ---- features ---------------------------------------------------------------------------- */

/* What an image needs of the firmware that runs it: a bit each, as docs/live.md numbers them.
 */
uint32_t uvk_features_of(const struct uvk_image *image);
/* What people call it; NULL: there are not so many. */
const char *uvk_feature_name(unsigned number);

/* ---- building ---------------------------------------------------------------------------- */

struct uvk_build_options {
    const char *folder; /* where the files go; NULL: nowhere. It is made if it is not there */
    const char *name;   /* of the files, what they are is put behind it */
    const char *cache;  /* folder of kept objects; NULL: the user's cache folder */
};

/* A file of a firmware, or of that of a half: FORM is "hex", "uf2", "bin" or "elf". Of hex and
 * uf2 there is the one that the chip's bootloaders take. */
struct uvk_file {
    const char *form;
    const char *half; /* its name, as the board has it; NULL: the file is for the whole board */
    char *path;
};

/* What a part of the firmware takes, in bytes. */
struct uvk_part {
    const char *name;
    uint32_t flash, ram;
};

struct uvk_firmware {
    uint8_t *code;     /* from address 0 on */
    size_t size;       /* bytes of flash that are used */
    size_t flash_room; /* bytes of flash before the bootloader */
    size_t ram_used;   /* variables */
    size_t stack;      /* bytes that the port wants for the stack */
    size_t ram_room;   /* bytes of RAM of the chip */
    GArray *parts;     /* of struct uvk_part, largest first */
    unsigned compiled; /* files that had to be compiled */
    bool linked;       /* it had to be linked */
    char *elf;         /* the file with the symbols, in the cache */
    GPtrArray *files;  /* of struct uvk_file, what was written */
};

/* Where each half has a controller: do the two take different files? And why, in a sentence,
 * freed with g_free; NULL: there is one controller. Different files differ in one byte. */
bool uvk_two_files(const struct uvk_board *board);
char *uvk_files_reason(const struct uvk_board *board);

/* Make the firmware in SIZE bytes one for HALF (0, 1; -1: for any), whatever it was for before.
 * False: it is not one for halves. */
bool uvk_set_half(uint8_t *bytes, size_t size, int half);

/* Build PROGRAM (without errors, with board and keymap). NULL: *ERROR. */
struct uvk_firmware *uvk_build(struct uvk_program *program,
                               const struct uvk_build_options *options, GError **error);

/* The same, but one that is too large for its chip comes back as well, and nothing is written:
 * to show what takes the room. */
struct uvk_firmware *uvk_build_of_any_size(struct uvk_program *program,
                                           const struct uvk_build_options *options,
                                           GError **error);
void uvk_firmware_free(struct uvk_firmware *firmware);

/* What the firmware would be smaller by, in bytes, without a feature that the keymap uses. */
struct uvk_cost {
    const char *feature;
    uint32_t flash, ram;
};

/* All of them, of struct uvk_cost, largest first; freed with g_array_free. Each is measured by
 * building without it, which takes a second or two for each the first time. NULL: *ERROR. */
GArray *uvk_build_costs(struct uvk_program *program, const struct uvk_build_options *options,
                        GError **error);

/* About how many bytes of flash the firmware of PROGRAM with IMAGE will take, without building
 * it: within 5 %. 0: its chip is not known. */
size_t uvk_estimate(const struct uvk_program *program, const uint8_t *image, uint16_t size);

/* The configuration header for IMAGE on the program's board. Freed with g_free. */
char *uvk_config_text(const struct uvk_program *program, const uint8_t *image, uint16_t size);

/* ---- what building needs ---------------------------------------------------------- */

struct uvk_need {
    const char *name;    /* "avr-gcc" */
    const char *what;    /* what it is for */
    const char *package; /* Debian's package */
    bool there;
    char *version; /* NULL if it is not there or does not tell */
};

/* All needs of building for CHIP and flashing it; NULL: of all chips. Freed with
 * uvk_needs_free. */
GArray *uvk_needs(const struct uvk_chip *chip); /* of struct uvk_need */
void uvk_needs_free(GArray *needs);

/* The folder with the sources of the firmware; NULL and *ERROR if it cannot be found. It
 * is UVREK_HOME, or beside this program, or where Uvrek was installed. */
char *uvk_source_folder(GError **error);

#ifdef __cplusplus
}
#endif

#endif
