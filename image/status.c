/* status.c - statuses in words. Desk side. */
#include "uvrek/status.h"

#include <stddef.h>

const char *uvk_status_text(enum uvk_status status)
{
    static const char *const texts[] = {
        [UVK_OK] = "ok",
        [UVK_BAD_MAGIC] = "not a keymap image",
        [UVK_BAD_VERSION] = "a keymap image of another version",
        [UVK_BAD_LENGTH] = "the keymap image is cut or too long",
        [UVK_BAD_SUM] = "the keymap image is damaged",
        [UVK_BAD_TABLE] = "a table of the keymap image is not as it should be",
        [UVK_BAD_VALUE] = "a table of the keymap image holds a value that means nothing",
        [UVK_TOO_BIG] = "the keymap image needs a bigger engine",
        [UVK_NO_SPACE] = "it does not fit",
        [UVK_OTHER_BUILD] = "the program was built for an engine with another configuration",
    };
    size_t index = (size_t)status;

    return index < sizeof texts / sizeof texts[0] ? texts[index] : "unknown status";
}
