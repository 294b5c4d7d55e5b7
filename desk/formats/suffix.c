/* suffix.c - the suffix of files for DFU bootloaders (USB DFU 1.1, appendix B). It stands at
 * the end, so that its own end tells of its beginning. */
#include "suffix.h"

#include "uvrek/dfu.h"

#include <string.h>

#define AT_PRODUCT 2u
#define AT_VENDOR  4u
#define AT_VERSION 6u
#define AT_MARK    8u
#define AT_LENGTH  11u
#define AT_SUM     12u
#define POLYNOMIAL 0xEDB88320u

/* Of all bytes but the sum itself; not inverted at the end. */
static uint32_t sum_of(const uint8_t *bytes, size_t size)
{
    uint32_t sum = UINT32_MAX;

    for (size_t i = 0; i < size; i++) {
        sum ^= bytes[i];
        for (unsigned bit = 0; bit < 8; bit++) {
            sum = sum >> 1 ^ (sum & 1 ? POLYNOMIAL : 0);
        }
    }
    return sum;
}

static uint32_t read_sum(const uint8_t *at)
{
    return at[0] | (uint32_t)at[1] << 8 | (uint32_t)at[2] << 16 | (uint32_t)at[3] << 24;
}

static uint16_t read_id(const uint8_t *at)
{
    return (uint16_t)(at[0] | at[1] << 8);
}

bool suffix_is_there(const char *file, size_t size)
{
    return size >= UVK_DFU_SUFFIX_SIZE &&
           memcmp(file + size - UVK_DFU_SUFFIX_SIZE + AT_MARK, "UFD", 3) == 0;
}

bool suffix_read(const char *file, size_t size, struct suffix *suffix, GError **error)
{
    const uint8_t *bytes = (const uint8_t *)file;
    const uint8_t *at = bytes + size - UVK_DFU_SUFFIX_SIZE;
    uint32_t sum = sum_of(bytes, size - (UVK_DFU_SUFFIX_SIZE - AT_SUM));

    if (at[AT_LENGTH] < UVK_DFU_SUFFIX_SIZE || at[AT_LENGTH] >= size ||
        read_id(at + AT_VERSION) < 0x0100) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_WELL,
                            "the file ends in a DFU suffix that is damaged, or has nothing "
                            "before it");
        return false;
    }
    if (sum != read_sum(at + AT_SUM)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "the file is damaged: its DFU suffix has the sum %08x, its bytes have %08x",
                    read_sum(at + AT_SUM), sum);
        return false;
    }
    suffix->vendor = read_id(at + AT_VENDOR);
    suffix->product = read_id(at + AT_PRODUCT);
    suffix->size = at[AT_LENGTH];
    return true;
}
