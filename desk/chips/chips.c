/* chips.c - the list of chips. */
#include "uvrek/chips.h"

#include <string.h>

extern const struct uvk_chip uvk_chip_atmega32u4;
extern const struct uvk_chip uvk_chip_rp2040;

static const struct uvk_chip *const chips[] = {&uvk_chip_atmega32u4, &uvk_chip_rp2040};

const struct uvk_chip *const *uvk_chips(size_t *count)
{
    *count = sizeof chips / sizeof chips[0];
    return chips;
}

const struct uvk_chip *uvk_chip_named(const char *name)
{
    for (size_t i = 0; i < sizeof chips / sizeof chips[0]; i++) {
        if (strcmp(chips[i]->name, name) == 0) {
            return chips[i];
        }
    }
    return NULL;
}

const struct uvk_pin *uvk_chip_pin(const struct uvk_chip *chip, const char *name)
{
    for (size_t i = 0; i < chip->pin_count; i++) {
        if (strcmp(chip->pins[i].name, name) == 0) {
            return &chip->pins[i];
        }
    }
    return NULL;
}
