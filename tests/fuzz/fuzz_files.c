/* libFuzzer: files for a chip that may be anything, HEX, UF2, ELF or bytes, and the note in
 * them. What is read comes back the same when it is written and read again. */
#include "uvrek/formats.h"

#include <stdlib.h>
#include <string.h>

#define MOST 0x20000u

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);

static void read_hex(const char *text)
{
    size_t count = 0;
    size_t again = 0;
    uint8_t *bytes = uvk_hex_read(text, MOST, &count, NULL);

    if (bytes != NULL) {
        char *written = uvk_hex_write(bytes, count);
        uint8_t *back = uvk_hex_read(written, MOST, &again, NULL);
        if (count > MOST || back == NULL || again != count || memcmp(bytes, back, count) != 0) {
            abort();
        }
        g_free(back);
        g_free(written);
    }
    g_free(bytes);
}

static void read_uf2(const uint8_t *file, size_t size)
{
    struct uvk_uf2 uf2;
    struct uvk_uf2 back;
    size_t blocks;

    if (uvk_uf2_read(file, size, MOST, &uf2, NULL)) {
        uint8_t *written = uvk_uf2_write(uf2.bytes, uf2.size, uf2.address, uf2.family, &blocks);
        /* the last block may be filled up beyond the last address */
        bool read = uvk_uf2_read(written, blocks, MOST + 256, &back, NULL);
        if (uf2.size > MOST ||
            (read && (back.address != uf2.address || back.family != uf2.family ||
                      memcmp(back.bytes, uf2.bytes, uf2.size) != 0))) {
            abort();
        }
        g_free(back.bytes);
        g_free(written);
        g_free(uf2.bytes);
    }
}

static void read_any(char *file, size_t size)
{
    struct uvk_carried carried;
    struct uvk_note note;

    if (uvk_carried_take(file, size, &carried, NULL)) {
        if (carried.size == 0 || carried.size > UVK_CARRIED_MOST) {
            abort();
        }
        if (uvk_note_find(carried.bytes, carried.size, &note) && strlen(note.board) == 0) {
            abort();
        }
        g_free(carried.bytes);
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    char *text = g_malloc(size + 1);

    memcpy(text, data, size);
    text[size] = '\0';
    read_any(text, size);
    read_hex(text);
    read_uf2(data, size);
    g_free(text);
    return 0;
}
