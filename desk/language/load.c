/* load.c - a program, and what is doubtful in it. */
#include "reading.h"

#include <string.h>

static struct uvk_program *load(const struct text_read *text)
{
    struct uvk_program *program = read_program(text, NULL);
    struct reading reading = begin_reading(program, &program->messages);

    tell_board_doubts(&reading);
    tell_doubts(&reading);
    if (program->board == NULL && program->messages.errors == 0) {
        struct uvk_place place = {g_ptr_array_index(program->sources, 0), 0, 1};
        uvk_say(&program->messages, UVK_SAYS_MISSING, place, NULL,
                "there is no board in this program");
    }
    end_reading(&reading);
    uvk_messages_sort(&program->messages);
    return program;
}

struct uvk_program *uvk_program_load(const char *path)
{
    struct text_read text = {.path = path};

    text.bytes = uvk_source_bytes(path, &text.size);
    return load(&text);
}

struct uvk_program *uvk_program_load_by(const char *path, uvk_file_reader reader, void *data)
{
    struct text_read text = {.path = path, .reader = reader, .reader_data = data};

    text.bytes = reader(path, &text.size, data);
    return load(&text);
}

struct uvk_program *uvk_program_read(const char *path, const char *text, size_t size)
{
    size_t taken = MIN(size, UVK_SOURCE_MAX + 1);
    char *bytes = g_malloc(taken + 1);
    struct text_read read = {.path = path, .size = taken};

    memcpy(bytes, text, taken);
    bytes[taken] = '\0';
    read.bytes = bytes;
    return load(&read);
}
