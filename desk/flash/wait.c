/* wait.c - until a bootloader is there, or patience has run out. */
#include "roads.h"

#include <string.h>

/* Between two looks. Some bootloaders stay for less than a second: they are to be spoken to
 * within 50 ms. */
#define LOOK_US 10000u

/* The one that was asked for, or the only one; NULL: not there yet. False and *ERROR: several
 * are there, and nobody says which. */
static bool choose(const struct visit *visit, const GPtrArray *found, char **chosen,
                   GError **error)
{
    const char *to = visit->options->to;
    GString *names;

    for (guint i = 0; to != NULL && i < found->len; i++) {
        if (strcmp(found->pdata[i], to) == 0) {
            *chosen = g_strdup(to);
        }
    }
    if (to != NULL || found->len < 2) {
        if (to == NULL && found->len == 1) {
            *chosen = g_strdup(found->pdata[0]);
        }
        return true;
    }
    names = g_string_new(NULL);
    for (guint i = 0; i < found->len; i++) {
        g_string_append_printf(names, "\n  --to %s", (const char *)found->pdata[i]);
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "%u bootloaders are there; nothing was written. Say which one is meant:%s",
                found->len, names->str);
    g_string_free(names, TRUE);
    return false;
}

/* False: there is no use in waiting. */
static bool look(const struct road *road, struct visit *visit, char **chosen, GError **error)
{
    GPtrArray *found = g_ptr_array_new_with_free_func(g_free);
    bool good = road->look(visit, found, error) && choose(visit, found, chosen, error);

    g_ptr_array_unref(found);
    return good;
}

char *road_wait(const struct road *road, struct visit *visit, GError **error)
{
    const struct uvk_flash_options *options = visit->options;
    gint64 end = g_get_monotonic_time() + (gint64)options->patience * G_USEC_PER_SEC;
    char *chosen = NULL;
    bool useful = look(road, visit, &chosen, error);

    if (useful && chosen == NULL) {
        road_tell(options, UVK_FLASH_WAITING, road->press, 0, 0);
    }
    while (useful && chosen == NULL && g_get_monotonic_time() < end) {
        g_usleep(LOOK_US);
        useful = look(road, visit, &chosen, error);
    }
    if (useful && chosen == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "no bootloader appeared within %u s; nothing was written",
                    options->patience);
    }
    return chosen;
}
