/* carried.h - files with machine code, wherever they were made, as the commands show them. */
#ifndef UVREK_CLI_CARRIED_H
#define UVREK_CLI_CARRIED_H

#include "cli.h"

#include "uvrek/chips.h"
#include "uvrek/formats.h"

/* A file, and which chip it is for. */
struct carried {
    struct uvk_carried file;
    struct uvk_note note;
    bool noted;                  /* it says itself what it is */
    const struct uvk_chip *chip; /* NULL: nothing tells */
};

/* Does PATH look like a file with machine code, by its name? */
bool is_carried(const char *path);

/* Read PATH; NAMED is the chip that somebody says it is for, or NULL. False: *ERROR. */
bool carried_read(const char *path, const char *named, struct carried *carried, GError **error);
void carried_clear(struct carried *carried);

/* What it is, in a few lines. */
void carried_print(const struct carried *carried, const char *path);

/* The bytes for the chip's flash, from its start on; freed with g_free. NULL: *ERROR: it does
 * not fit, or goes elsewhere. */
uint8_t *carried_code(const struct carried *carried, size_t *size, GError **error);

#endif
