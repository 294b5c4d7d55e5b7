/* Bad moments: odd names, files that were tampered with, closed outputs, helpers that stop.
 * The command as a person meets it; nothing may be lost, and nothing claimed that is not so. */
#include "support.h"

#include <glib/gstdio.h>
#include <stdio.h>
#include <string.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#define DEMO "boards/subtitle-desk.uvk"

/* Run a shell command line; its status is STATUS, and PART is in what it prints. */
static void expect(const char *command, int status, const char *part)
{
    const char *arguments[] = {"/bin/sh", "-c", command, NULL};
    char *out = NULL;
    char *err = NULL;
    char *both;
    int ended = 0;

    assert_true(g_spawn_sync(NULL, (char **)arguments, NULL, G_SPAWN_DEFAULT, NULL, NULL, &out,
                             &err, &ended, NULL));
    both = g_strconcat(out, err, NULL);
    if (!WIFEXITED(ended) || WEXITSTATUS(ended) != status ||
        (part != NULL && strstr(both, part) == NULL)) {
        fail_msg("%s: ended with %x, and '%s' is not in:\n%s", command, (unsigned)ended,
                 part != NULL ? part : "", both);
    }
    g_free(out);
    g_free(err);
    g_free(both);
}

/* Whatever a file, its name or the command line holds, a terminal is only written on. */
static void nothing_from_outside_reaches_the_terminal_as_it_is(void **state)
{
    static const char *const lines[] = {
        "uvrek export " DEMO " | sed 's/\"r0c0\":/\"\\\\u001b[2J\":/' >\"$SCRATCH/esc.json\"; "
        "uvrek import \"$SCRATCH/esc.json\"",
        "uvrek check \"$(printf 'no\\033[2J.uvk')\"",
        "uvrek import \"$(printf 'no\\033[2J.json')\"",
        "uvrek \"$(printf '\\033[2J')\"",
        "uvrek explain \"$(printf '\\033[2J')\" " DEMO,
        "uvrek sheet " DEMO " --layer \"$(printf '\\033[2J')\"",
        "uvrek check \"$(printf -- '--\\033[2J')\"",
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(lines); i++) {
        char *seen = g_strdup_printf(
            "(%s) 2>&1 | tr '\\033' '~' | grep -c '~' && exit 1; exit 0", lines[i]);
        char *told = g_strdup_printf("(%s) 2>&1 | grep -F 'u{1b}' >\"$SCRATCH/told\"; exit $?",
                                     lines[i]);
        expect(seen, 0, NULL);
        expect(told, 0, NULL);
        g_free(seen);
        g_free(told);
    }
}

/* ---- names ------------------------------------------------------------------------------ */

static void folders_may_have_any_names(void **state)
{
    static const char *const names[] = {"two words", "a,b", "it's", "\"quoted\"", "new\nline"};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(names); i++) {
        char *folder = g_build_filename(scratch_folder(), names[i], NULL);
        char *quoted = g_shell_quote(folder);
        char *command =
            g_strdup_printf("mkdir -p %s && cd %s && cp \"$OLDPWD\"/boards/*.uvk . && "
                            "TMPDIR=%s XDG_CACHE_HOME=%s HOME=%s uvrek play --chip "
                            "--only 'speaker sign' subtitle-desk.uvk",
                            quoted, quoted, quoted, quoted, quoted);
        expect(command, 0, " 0 failed");
        g_free(folder);
        g_free(quoted);
        g_free(command);
    }
    expect("cd \"$SCRATCH\" && XDG_CACHE_HOME=here uvrek build -o . 'two words'/tidepad12.uvk; "
           "uvrek build -o \"$SCRATCH\" 'two words'/subtitle-desk.uvk",
           0, "flash");
    expect("cp boards/*.uvk \"$SCRATCH\"; cd \"$SCRATCH\" && cp subtitle-desk.uvk ./-d.uvk && "
           "uvrek check -- -d.uvk",
           0, "5 layers");
}

/* ---- what is kept ----------------------------------------------------------------------- */

/* One bit flipped in every kept file: the same firmware comes out. */
static void a_tampered_cache_is_noticed(void **state)
{
    (void)state;
    expect("cd \"$SCRATCH\" && mkdir first second third fourth", 0, NULL);
    expect("uvrek build -o \"$SCRATCH/first\" " DEMO, 0, NULL);
    expect("cd \"$XDG_CACHE_HOME/uvrek\" && for f in *.o *.elf *.map *-config.h *-keymap.c; do "
           "printf 'X' | dd of=\"$f\" bs=1 seek=99 conv=notrunc 2>/dev/null; done",
           0, NULL);
    expect("uvrek build -o \"$SCRATCH/second\" " DEMO, 0, NULL);
    expect("cmp \"$SCRATCH\"/first/*.hex \"$SCRATCH\"/second/*.hex", 0, NULL);
    expect("cd \"$XDG_CACHE_HOME/uvrek\" && for f in *.o *.elf; do truncate -s 100 \"$f\"; "
           "done",
           0, NULL);
    expect("uvrek build -o \"$SCRATCH/third\" " DEMO, 0, NULL);
    expect("cmp \"$SCRATCH\"/first/*.hex \"$SCRATCH\"/third/*.hex", 0, NULL);
}

/* A build that was killed leaves its folder; the next one takes it away. */
static void nothing_is_left_of_a_killed_build(void **state)
{
    (void)state;
    expect("mkdir -p \"$XDG_CACHE_HOME/uvrek/work-99999999-abcdef\" && "
           "echo x >\"$XDG_CACHE_HOME/uvrek/work-99999999-abcdef/part.o\" && "
           "uvrek build -o \"$SCRATCH/fourth\" " DEMO " && ls \"$XDG_CACHE_HOME/uvrek\" | "
           "grep work-",
           1, NULL);
}

/* ---- outputs ---------------------------------------------------------------------------- */

/* Whatever is closed, no file that is opened later takes the words for people. */
static void closed_outputs_send_nothing_astray(void **state)
{
    (void)state;
    expect("cp boards/tidepad12.uvk \"$SCRATCH/closed.uvk\"; "
           "uvrek tidy \"$SCRATCH/closed.uvk\" >&- 2>&- <&-; "
           "cmp boards/tidepad12.uvk \"$SCRATCH/closed.uvk\"",
           0, NULL);
    expect("uvrek export -o \"$SCRATCH/closed.json\" " DEMO " >&- && "
           "uvrek export -o \"$SCRATCH/open.json\" " DEMO " && "
           "cmp \"$SCRATCH/closed.json\" \"$SCRATCH/open.json\"",
           0, NULL);
    expect("uvrek play --chip --only 'speaker sign' " DEMO " 2>&- <&-", 0, " 0 failed");
}

/* ---- files ------------------------------------------------------------------------------ */

#define UNTIDY                                                                                 \
    "board t { chip atmega32u4; matrix { rows B1 B2; cols F4 F5; flow row->col }\n"            \
    " keys {\n r0c0 r0c1\n r1c0 r1c1\n } }\nkeymap k { layer base {\n a up\n  esc d\n} }\n"

static void tidy_changes_nothing_but_the_text(void **state)
{
    char *path = scratch_file("secret.uvk", UNTIDY);
    char *link = g_build_filename(scratch_folder(), "link.uvk", NULL);
    struct stat there;

    (void)state;
    assert_int_equal(chmod(path, 0600), 0);
    assert_int_equal(symlink("secret.uvk", link), 0);
    expect("uvrek tidy \"$SCRATCH/link.uvk\"", 0, "spaces changed");
    assert_true(g_file_test(link, G_FILE_TEST_IS_SYMLINK));
    assert_int_equal(stat(path, &there), 0);
    assert_int_equal(there.st_mode & 0777, 0600);
    expect("uvrek tidy --check \"$SCRATCH/secret.uvk\"", 0, "is tidy");
    g_free(scratch_file("locked.uvk", UNTIDY));
    expect("chmod 0444 \"$SCRATCH/locked.uvk\" && uvrek tidy \"$SCRATCH/locked.uvk\"", 2,
           "it is read-only");
    expect(
        "ln -s nowhere \"$SCRATCH/dangling.json\"; uvrek export -o \"$SCRATCH/dangling.json\" "
        "" DEMO,
        2, "it leads nowhere");
    expect("ls -a \"$SCRATCH\" | grep 'uvk\\..*'", 1, NULL); /* nothing is left beside it */
    g_free(path);
    g_free(link);
}

static void exports_write_over_exports_only(void **state)
{
    (void)state;
    g_free(scratch_file("notes.json", "{\"my\": \"notes\"}"));
    expect("uvrek export -o \"$SCRATCH/notes.json\" " DEMO, 2, "--force");
    expect("grep -c notes \"$SCRATCH/notes.json\"", 0, "1");
    expect("uvrek export --force -o \"$SCRATCH/notes.json\" " DEMO, 0, NULL);
    expect("uvrek export -o \"$SCRATCH/notes.json\" boards/translator.uvk", 0, NULL);
    expect("uvrek export --schema -o \"$SCRATCH/notes.json\"", 2, "--force");
}

static void bench_takes_no_existing_name(void **state)
{
    (void)state;
    g_free(scratch_file("mine", "keep me\n"));
    expect("echo quit | uvrek bench --serial \"$SCRATCH/mine\" " DEMO, 2, "cannot make");
    expect("ln -s mine \"$SCRATCH/pointer\"; echo quit | uvrek bench --serial "
           "\"$SCRATCH/pointer\" " DEMO,
           2, "cannot make");
    expect("cat \"$SCRATCH/pointer\"", 0, "keep me");
}

/* ---- helpers ---------------------------------------------------------------------------- */

/* The simulator is replaced by a script: one that ends, one that babbles without an answer. */
static void a_helper_that_fails_is_told(void **state)
{
    (void)state;
    expect(
        "mkdir -p \"$SCRATCH/bin\" && cp \"$(command -v uvrek)\" \"$SCRATCH/bin/uvrek\" && "
        "printf '#!/bin/sh\\nread line\\nexit 1\\n' "
        ">\"$SCRATCH/bin/uvrek-chipsim-avr\" && chmod +x \"$SCRATCH/bin/uvrek-chipsim-avr\" && "
        "UVREK_HOME=. \"$SCRATCH/bin/uvrek\" play --chip --only 'speaker sign' " DEMO,
        2, "the chip's simulator has stopped");
    expect("UVREK_HOME=. \"$SCRATCH/bin/uvrek\" play --chip --type salt " DEMO, 2,
           "the chip's simulator has stopped");
    expect("printf '#!/bin/sh\\nexec head -c 3000000 /dev/zero\\n' "
           ">\"$SCRATCH/bin/uvrek-chipsim-avr\" && "
           "UVREK_HOME=. \"$SCRATCH/bin/uvrek\" play --chip --only 'speaker sign' " DEMO,
           2, "the chip's simulator has stopped");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(nothing_from_outside_reaches_the_terminal_as_it_is),
        cmocka_unit_test(folders_may_have_any_names),
        cmocka_unit_test(a_tampered_cache_is_noticed),
        cmocka_unit_test(nothing_is_left_of_a_killed_build),
        cmocka_unit_test(closed_outputs_send_nothing_astray),
        cmocka_unit_test(tidy_changes_nothing_but_the_text),
        cmocka_unit_test(exports_write_over_exports_only),
        cmocka_unit_test(bench_takes_no_existing_name),
        cmocka_unit_test(a_helper_that_fails_is_told),
    };
    return cmocka_run_group_tests_name("moments", tests, command_line_set_up, NULL);
}
