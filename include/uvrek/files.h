/* files.h - files that the desk writes. */
#ifndef UVREK_FILES_H
#define UVREK_FILES_H

#include "uvrek/problem.h"

#include <stdbool.h>
#include <stddef.h>

#ifdef __cplusplus
extern "C" {
#endif

/* Write BYTES to PATH whole or not at all: a temporary file beside it, then a rename. Links,
 * rights and owner of a file that is there stay. False: *ERROR. */
bool uvk_file_write(const char *path, const void *bytes, size_t size, GError **error);

#ifdef __cplusplus
}
#endif

#endif
