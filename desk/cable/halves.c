/* halves.c - a keyboard in two halves is asked how they are. */
#include "uvrek/halves.h"

#include "uvrek/problem.h"

#define ANSWER_MS 500u
#define LEADS     1u
#define SECOND    2u

const struct uvk_request uvk_halves_request = {.type = 0xC0, .code = 1};

static unsigned count_at(const uint8_t *bytes)
{
    return bytes[0] | (unsigned)bytes[1] << 8;
}

bool uvk_halves_read(const uint8_t *answer, size_t size, struct uvk_halves_told *told)
{
    if (size != UVK_HALF_TOLD || answer[1] > UVK_HALF_SAME_HALF) {
        return false;
    }
    *told = (struct uvk_halves_told){
        (answer[0] & LEADS) != 0, (answer[0] & SECOND) != 0, (enum uvk_half_trouble)answer[1],
        count_at(answer + 2),     count_at(answer + 4),      count_at(answer + 6),
        count_at(answer + 8)};
    return true;
}

bool uvk_halves_ask(struct uvk_cable *cable, struct uvk_halves_told *told, GError **error)
{
    uint8_t answer[UVK_HALF_TOLD];
    size_t size = sizeof answer;

    if (uvk_cable_ask(cable, &uvk_halves_request, answer, &size, ANSWER_MS) != UVK_CABLE_DONE ||
        !uvk_halves_read(answer, size, told)) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                            "the keyboard does not say how its halves are");
        return false;
    }
    return true;
}

const char *uvk_half_trouble_text(enum uvk_half_trouble trouble)
{
    static const char *const sentences[] = {
        [UVK_HALF_WELL] = NULL,
        [UVK_HALF_ALONE] =
            "nothing comes from the other half: the cable is out, or crossed, or "
            "the other half is off",
        [UVK_HALF_UNINTELLIGIBLE] = "what comes from the other half cannot be understood: the "
                                    "halves have different speeds, or the cable is bad",
        [UVK_HALF_OTHER_IMAGE] =
            "the other half has another firmware: flash both with the same",
        [UVK_HALF_SAME_HALF] = "both halves have been told that they are the same half: flash "
                               "one of them as the other",
    };

    return sentences[trouble];
}
