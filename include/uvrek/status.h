/* status.h - what a function of the library answers.
 *
 * 1. What runs in a keyboard (engine, image) and can fail returns enum uvk_status; UVK_OK is 0.
 *    What runs on the desk gives a GError, see problem.h; mistakes in texts are messages, see
 *    syntax.h. Nothing else tells of errors.
 * 2. The library prints nothing and never ends the program.
 * 3. On anything but UVK_OK, what the function would have filled in is unchanged
 *    unless its own comment says otherwise.
 */
#ifndef UVREK_STATUS_H
#define UVREK_STATUS_H

#ifdef __cplusplus
extern "C" {
#endif

enum uvk_status {
    UVK_OK = 0,
    UVK_BAD_MAGIC,   /* these bytes are no keymap image */
    UVK_BAD_VERSION, /* an image of another format version */
    UVK_BAD_LENGTH,  /* the image is cut, or longer than it says */
    UVK_BAD_SUM,     /* its checksum does not match its bytes */
    UVK_BAD_TABLE,   /* a table is missing, out of order, or of the wrong size */
    UVK_BAD_VALUE,   /* a table holds a value that means nothing */
    UVK_TOO_BIG,     /* more keys, layers or lines than this engine was built for */
    UVK_NO_SPACE,    /* the caller's buffer is too small */
    UVK_OTHER_BUILD  /* the caller was compiled with another configuration than the library */
};

/* A short English phrase for a status, never NULL. */
const char *uvk_status_text(enum uvk_status status);

#ifdef __cplusplus
}
#endif

#endif
