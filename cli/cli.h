/* cli.h - the command: arguments in, messages out, nothing else. */
#ifndef UVREK_CLI_H
#define UVREK_CLI_H

#include "uvrek/problem.h"
#include "uvrek/text.h"

#include <jansson.h>
#include <stdbool.h>

/* Exit statuses. */
enum { STATUS_WELL = 0, STATUS_NOT_WELL = 1, STATUS_NOT_DONE = 2 };

#define ANY_WORDS 0u

struct command {
    const char *name;
    const char *arguments; /* "FILE" */
    const char *summary;
    const char *example;
    const GOptionEntry *options; /* --help is not among them */
    unsigned words; /* that stand behind the options; ANY_WORDS: the command counts them */
    int (*run)(int count, char **words);
};

extern const struct command command_bench, command_build, command_check, command_editor,
    command_explain, command_export, command_flash, command_import, command_keys, command_live,
    command_new, command_play, command_ready, command_sheet, command_tidy, command_wires;

/* ---- options.c ---- */

/* Parse the options of COMMAND, which --help tells of, and run it; its exit status. ARGV[0] is
 * its name. */
int run_command(const struct command *command, int argc, char **argv);

/* Is COUNT one? If not, that is told. */
bool is_one(const struct command *command, int count);

/* A name of the language as near as possible to TEXT. Freed with g_free. */
char *name_from(const char *text);

/* The layer of that name; -1 and a message if KEYMAP (perhaps NULL) has none. */
int find_layer(const struct uvk_keymap *keymap, const char *name);

/* ---- delays.c ---- */

/* Which keys of a program without errors wait before they are decided; worst first. */
void print_delays(const struct uvk_program *program);
void delays_to_json(json_t *json, const struct uvk_program *program);

/* ---- output.c ---- */

/* TEXT into the file OUTPUT, or to standard output if that is NULL. The exit status. */
int write_or_print(const char *text, const char *output);

bool on_terminal(void);     /* standard output is one, and colour is not turned off */
bool errors_coloured(void); /* the same of standard error */

/* Print all messages to standard error. */
void print_messages(const struct uvk_messages *messages);

/* Print an error of the command to standard error, and free it; returns its status. */
int print_problem(GError *error);

/* A number with its thousands apart; a few at a time may be in use. */
const char *thousands(size_t number);

/* How much of the WHOLE that is, "12 %"; good until it is asked again. */
const char *share(size_t part, size_t whole);

/* Print "uvrek: " and a line about what is wrong. Names in it are from outside: nothing of
 * them reaches the terminal but what can be seen. */
void complain(const char *format, ...) G_GNUC_PRINTF(1, 2);

/* Print "uvrek: LEAD 'NAME'", and which name was meant, if one is near. */
void complain_name(const char *lead, const char *name, const char *near);

/* The exit status that messages lead to. */
int status_of(const struct uvk_messages *messages);

/* Load a program and print its messages if it has mistakes. NULL: *STATUS is the exit status.
 * With NEED_KEYMAP a program without a keymap is not well. */
struct uvk_program *load_program(const char *path, bool need_keymap, int *status);

/* The messages as the member `messages` of OBJECT. */
void messages_to_json(json_t *object, const struct uvk_messages *messages);
/* TEXT may be NULL: null. */
void put_text(json_t *object, const char *name, const char *text);
void put_number(json_t *object, const char *name, json_int_t number);
void put_flag(json_t *object, const char *name, bool flag);

/* An empty array as a member of OBJECT; an object as one, empty if it was not there; an empty
 * object as the last of LIST. All belong to what they are part of. */
json_t *put_list(json_t *object, const char *name);
json_t *put_object(json_t *object, const char *name);
json_t *add_object(json_t *list);

/* Print OBJECT in one line, at once, and free it. */
void print_json_line(json_t *object);

/* Print OBJECT and free it. */
void print_json(json_t *object);

/* Flush standard output. STATUS, or STATUS_NOT_DONE if it could not be written. */
int finish(int status);

#endif
