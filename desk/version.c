/* version.c - which Uvrek this library is. */
#include "uvrek/version.h"

int uvk_version(void)
{
    return UVK_VERSION;
}

const char *uvk_version_text(void)
{
    return UVK_VERSION_TEXT;
}
