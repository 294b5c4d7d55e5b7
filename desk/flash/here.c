/* here.c - what of a board, or of its bootloader, is plugged in now. */
#include "roads.h"

static void free_sighting(gpointer data)
{
    struct uvk_sighting *sighting = data;

    g_free(sighting->what);
    g_free(sighting->mend);
    g_free(sighting);
}

/* WHAT and MEND become the sighting's. */
static struct uvk_sighting *add(GPtrArray *sightings, bool running, char *what, char *mend)
{
    struct uvk_sighting *sighting = g_new0(struct uvk_sighting, 1);

    sighting->running = running;
    sighting->what = what;
    sighting->mend = mend;
    g_ptr_array_add(sightings, sighting);
    return sighting;
}

static void add_keyboards(GPtrArray *sightings, const struct uvk_flash_options *options)
{
    GPtrArray *keyboards = road_keyboards(options);

    for (guint i = 0; keyboards != NULL && i < keyboards->len; i++) {
        struct uvk_sighting *sighting =
            add(sightings, true, road_keyboard_text(options, keyboards->pdata[i]), NULL);
        sighting->halves = road_ask_halves(options, keyboards->pdata[i], &sighting->told);
    }
    g_clear_pointer(&keyboards, g_ptr_array_unref);
}

/* Why this user may not open NAME; NULL: it is open. Freed with g_free. */
static char *mend_of(const struct road *road, const char *name)
{
    GError *error = NULL;
    char *text = NULL;

    if (!road->may(name, &error)) {
        text = g_strdup(error->message);
        g_error_free(error);
    }
    return text;
}

static void add_bootloaders(GPtrArray *sightings, const struct road *road, struct visit *visit)
{
    GPtrArray *found = g_ptr_array_new_with_free_func(g_free);
    GError *error = NULL;

    if (!road->look(visit, found, &error)) {
        (void)add(sightings, false, g_strdup(road->sight), g_strdup(error->message));
        g_error_free(error);
    } else {
        for (guint i = 0; i < found->len; i++) {
            const char *name = found->pdata[i];
            (void)add(sightings, false, g_strdup_printf("%s, at %s", road->sight, name),
                      mend_of(road, name));
        }
    }
    g_ptr_array_unref(found);
}

GPtrArray *uvk_sightings(const struct uvk_chip *chip, const char *boot,
                         const struct uvk_flash_options *options)
{
    char *none[] = {NULL};
    struct visit visit = {chip, options, none, true}; /* nothing is touched, or told */
    const struct road *road = road_named(boot);
    GPtrArray *sightings = g_ptr_array_new_with_free_func(free_sighting);

    add_keyboards(sightings, options);
    if (road != NULL) {
        add_bootloaders(sightings, road, &visit);
    }
    return sightings;
}
