/* suffix.h - what a file for DFU bootloaders says at its end. */
#ifndef UVREK_FORMATS_SUFFIX_H
#define UVREK_FORMATS_SUFFIX_H

#include "uvrek/formats.h"

struct suffix {
    uint16_t vendor, product; /* of the bootloader; UVK_DFU_ANY_ID: of any */
    size_t size;              /* bytes of the suffix itself */
};

/* Does the file end in one, as far as its mark tells? */
bool suffix_is_there(const char *file, size_t size);

/* Read it. False: *ERROR. */
bool suffix_read(const char *file, size_t size, struct suffix *suffix, GError **error);

#endif
