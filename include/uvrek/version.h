/* version.h - which Uvrek this is.
 *
 * 1. A version is MAJOR.MINOR.PATCH. While MAJOR is 0, a new MINOR may change anything here;
 *    from 1.0.0 on it only adds, and what a program of an older MINOR relies on stays.
 * 2. A new PATCH mends: no name, no message and no file format changes.
 * 3. What a file means is versioned by itself: keymap images have UVK_IMAGE_VERSION, JSON a
 *    version of its form. What stands in priv/ is promised to nobody.
 * 4. A program that was compiled with one MINOR and runs with another can tell:
 *    uvk_version() / 100 != UVK_VERSION / 100.
 */
#ifndef UVREK_VERSION_H
#define UVREK_VERSION_H

#ifdef __cplusplus
extern "C" {
#endif

#define UVK_VERSION_TEXT "0.1.0"
#define UVK_VERSION      100 /* MAJOR * 10000 + MINOR * 100 + PATCH */

/* The version of the library that is linked. */
int uvk_version(void);
const char *uvk_version_text(void);

#ifdef __cplusplus
}
#endif

#endif
