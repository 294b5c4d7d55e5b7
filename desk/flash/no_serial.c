/* no_serial.c - what stands in for serial.c where libserialport is not installed. */
#include "uvrek/flash.h"

struct uvk_line *uvk_serial_open(const char *path, GError **error)
{
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "cannot open %s: this uvrek was built without libserialport", path);
    return NULL;
}

bool uvk_has_serial(void)
{
    return false;
}

char **uvk_serial_ports(void)
{
    return g_new0(char *, 1);
}

bool uvk_serial_ids(const char *path, uint16_t *vendor, uint16_t *product)
{
    (void)path;
    (void)vendor;
    (void)product;
    return false;
}

bool uvk_serial_touch(const char *path, GError **error)
{
    return uvk_serial_open(path, error) != NULL;
}
