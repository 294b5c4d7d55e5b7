/* shown.c - the commands about what lights up. */
#include "chipsim.h"

static void print_range(const struct lights_range *range)
{
    bool any = range->least <= range->most;

    printf(" %llu %llu", (unsigned long long)(any ? range->least : 0),
           (unsigned long long)(any ? range->most : 0));
}

void shown_watch(struct sim *sim, const char *pin)
{
    bool good = chip_has_pin(pin) && lights_watch(&sim->lights, pin, chip_ns(sim));

    if (good) {
        chip_lights(sim);
    }
    puts(good ? "ok" : "error no such pin, or too many");
}

void shown_brightness(struct sim *sim, const char *pin)
{
    const struct lights_pin *found = lights_find(&sim->lights, pin);

    if (found == NULL) {
        puts("error that pin is not watched");
        return;
    }
    printf("ok %u\n", lights_now(found, chip_ns(sim)));
}

void shown_strip(struct sim *sim, const char *pin)
{
    struct lights_pin *found = lights_find(&sim->lights, pin);
    const struct lights_strip *strip;

    if (found == NULL) {
        puts("error that pin is not watched");
        return;
    }
    chip_lights(sim);
    strip = lights_strip(found, chip_ns(sim));
    printf("ok %u", strip->frames);
    print_range(&strip->zero);
    print_range(&strip->one);
    print_range(&strip->rest);
    putchar(' ');
    for (size_t i = 0; i < strip->shown_size; i++) {
        printf("%02x", strip->shown[i]);
    }
    putchar('\n');
}
