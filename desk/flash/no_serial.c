/* no_serial.c - what stands in for serial.c where libserialport is not installed. */
#include "uvrek/flash.h"

struct uvk_line *uvk_serial_open(const char *path, GError **error)
{
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "cannot open %s: this uvrek was built without libserialport", path);
    return NULL;
}

char **uvk_serial_ports(void)
{
    return g_new0(char *, 1);
}
