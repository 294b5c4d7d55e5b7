/* flash_told.c - what `uvrek flash` says while it waits and works. */
#include "flashing.h"

#include <signal.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

#define BAR_WIDTH 40u

static volatile sig_atomic_t writing; /* for who stops it then */

/* What each stage is called: in JSON, and before a bar. */
static const struct {
    const char *event, *bar;
} stages[] = {
    [UVK_FLASH_WAITING] = {"waiting", NULL},
    [UVK_FLASH_FOUND] = {"found", NULL},
    [UVK_FLASH_HINT] = {"hint", NULL},
    [UVK_FLASH_READING] = {"reading", "reading"},
    [UVK_FLASH_WRITING] = {"writing", "writing"},
    [UVK_FLASH_VERIFYING] = {"verifying", "verifying"},
    [UVK_FLASH_DONE] = {"done", NULL},
    [UVK_FLASH_RUNNING] = {"running", NULL},
};

/* ---- JSON, an event a line -------------------------------------------------------------- */

static void print_event(json_t *json)
{
    (void)json_dumpf(json, stdout, JSON_COMPACT);
    putchar('\n');
    json_decref(json);
}

static void show_event(const struct shown *shown, enum uvk_flash_stage stage, const char *text,
                       size_t done, size_t total)
{
    json_t *json = json_object();

    put_text(json, "event", stages[stage].event);
    if (stages[stage].bar != NULL) {
        put_number(json, "bytes", (json_int_t)done);
        put_number(json, "of", (json_int_t)total);
    } else if (stage == UVK_FLASH_DONE) {
        put_number(json, "bytes", (json_int_t)total);
        put_flag(json, "verified", shown->verified);
        put_text(json, "remark", text);
    } else {
        put_text(json, "text", text);
    }
    print_event(json);
}

void show_happening(const struct wishes *wishes, const char *event, const char *half,
                    const char *words)
{
    if (wishes->as_json) {
        json_t *json = json_object();
        put_text(json, "event", event);
        put_text(json, "half", half);
        put_text(json, "text", words);
        print_event(json);
    } else {
        puts(words);
    }
    (void)fflush(stdout);
}

/* ---- words ------------------------------------------------------------------------------ */

static void show_bar(const char *what, size_t done, size_t total)
{
    unsigned full = (unsigned)(done * BAR_WIDTH / total);

    printf("\r%-9s [", what);
    for (unsigned i = 0; i < BAR_WIDTH; i++) {
        putchar(i < full ? '#' : '.');
    }
    printf("] %3u %%  %s of %s bytes", (unsigned)(done * 100 / total), thousands(done),
           thousands(total));
    if (done == total) {
        putchar('\n');
    }
}

static double seconds_since(gint64 moment)
{
    return (double)(g_get_monotonic_time() - moment) / G_USEC_PER_SEC;
}

static void show_done(const struct shown *shown, const char *text, size_t total)
{
    if (total > 0) {
        printf("%s bytes written%s in %.1f s; ", thousands(total),
               shown->verified ? " and verified" : "", seconds_since(shown->began));
    }
    puts(text != NULL ? text : "the firmware has been started");
}

static void show_words(struct shown *shown, enum uvk_flash_stage stage, const char *text,
                       size_t done, size_t total)
{
    switch (stage) {
    case UVK_FLASH_WAITING:
        printf("Start the bootloader of %s: %s.\n", shown->title, text);
        break;
    case UVK_FLASH_HINT:
        printf("%s\n", text);
        break;
    case UVK_FLASH_FOUND:
        printf("found %s\n", text);
        break;
    case UVK_FLASH_DONE:
        show_done(shown, text, total);
        break;
    case UVK_FLASH_RUNNING:
        printf("the keyboard is there: %s\n", text);
        break;
    default:
        if (shown->terminal && total > 0) {
            show_bar(stages[stage].bar, done, total);
        } else if (shown->last != stage) {
            printf("%s %s bytes\n", stages[stage].bar, thousands(total));
        }
        break;
    }
}

void show_progress(struct shown *shown, enum uvk_flash_stage stage, const char *text,
                   size_t done, size_t total)
{
    char *visible = text != NULL ? uvk_visible_text(text) : NULL; /* devices name themselves */

    if (shown->began == 0 && stage == UVK_FLASH_WRITING) {
        shown->began = g_get_monotonic_time();
    }
    shown->verified = shown->verified || stage == UVK_FLASH_VERIFYING;
    if (shown->as_json) {
        show_event(shown, stage, visible, done, total);
    } else {
        show_words(shown, stage, visible, done, total);
    }
    g_free(visible);
    shown->last = stage;
    writing = stage == UVK_FLASH_WRITING || stage == UVK_FLASH_VERIFYING;
    (void)fflush(stdout);
}

int show_failure(const struct shown *shown, GError *error)
{
    bool amid = shown->last >= UVK_FLASH_READING && shown->last <= UVK_FLASH_VERIFYING;

    if (shown->as_json) {
        json_t *json = json_object();
        put_text(json, "event", "failed");
        put_text(json, "text", error->message);
        print_event(json);
    } else if (shown->terminal && amid) {
        putchar('\n');
    }
    (void)fflush(stdout);
    return print_problem(error);
}

/* ---- Ctrl-C ----------------------------------------------------------------------------- */

/* Whatever is in the chip's flash then, its bootloader is not touched. */
static void on_interrupt(int number)
{
    static const char before[] = "\nuvrek: stopped; nothing was written\n";
    static const char amid[] =
        "\nuvrek: stopped; the firmware may be half written. The bootloader "
        "is as it was: flash once more\n";
    const char *text = writing != 0 ? amid : before;
    ssize_t told = write(STDERR_FILENO, text, strlen(text));

    (void)number;
    (void)told;
    _exit(STATUS_NOT_DONE);
}

void catch_interrupt(void)
{
    struct sigaction action = {.sa_handler = on_interrupt};

    sigemptyset(&action.sa_mask);
    (void)sigaction(SIGINT, &action, NULL);
    (void)sigaction(SIGTERM, &action, NULL);
}
