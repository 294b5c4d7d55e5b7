/* wait.c - until a bootloader is there, or patience has run out. */
#include "roads.h"

#define LOOK_US 50000u /* between two looks */

char *road_wait(const struct uvk_flash_options *options, const char *what_to_press,
                bool (*look)(void *data, char **found, GError **error), void *data,
                GError **error)
{
    gint64 end = g_get_monotonic_time() + (gint64)options->patience * G_USEC_PER_SEC;
    char *found = NULL;
    bool useful = look(data, &found, error);

    if (useful && found == NULL) {
        road_tell(options, UVK_FLASH_WAITING, what_to_press, 0, 0);
    }
    while (useful && found == NULL && g_get_monotonic_time() < end) {
        g_usleep(LOOK_US);
        useful = look(data, &found, error);
    }
    if (useful && found == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "no bootloader appeared within %u s; nothing was written",
                    options->patience);
    }
    return found;
}
