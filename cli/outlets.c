/* outlets.c - where a keyboard on the bench is reached: a serial port, a drive, USB/IP; and the
 * wait for whatever comes next, there or on standard input. */
#include "workbench.h"

#include "received.h"

#include <errno.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

#define TICK_MS    1      /* while a host has the keyboard, its time follows the clock */
#define SLOW_MS    20     /* a serial port is looked at so often for a touch */
#define PARTED_US  500000 /* a keyboard that a host has left goes on for so long */
/* Of the time that has passed, so much is caught up with before anybody is answered: a chip
 * that runs slowly answers all the same. The rest is lost. */
#define MOST_US    10000u
#define POLL_MS    2 /* of the DFU bootloader */
#define INPUT_MOST (1u << 20)

/* ---- making them ------------------------------------------------------------------------ */

static const char *boot_of(const struct workbench *workbench)
{
    return workbench->program->board->boot;
}

/* A board's bootloader is of one kind; an outlet for another kind is not to be had. */
static bool fits(const struct workbench *workbench, const char *outlet, const char *boot,
                 const char *option, GError **error)
{
    if (outlet == NULL || strcmp(boot_of(workbench), boot) == 0) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s has a %s bootloader: %s is for others",
                workbench->program->board->name, boot_of(workbench), option);
    return false;
}

/* The chip maker's bootloader, or one of the board's own. */
static struct uvk_dfu_boot *make_dfu(const struct workbench *workbench,
                                     const struct faults *faults)
{
    const struct uvk_board *board = workbench->program->board;
    const struct uvk_chip *on_board = board->chip;
    struct uvk_dfu_kind kind = {.transfer = UVK_DFU_AT_ONCE,
                                .poll = POLL_MS,
                                .vendor = on_board->dfu_vendor,
                                .product = on_board->dfu_product};

    return uvk_dfu_boot_new(on_board, &kind, &faults->dfu);
}

bool outlets_open(struct workbench *workbench, const struct outlets *outlets,
                  const struct faults *faults, GError **error)
{
    const struct uvk_chip *on_board = workbench->program->board->chip;

    if (!fits(workbench, outlets->drive, "uf2", "--drive", error) ||
        !fits(workbench, outlets->serial, "serial", "--serial", error)) {
        return false;
    }
    workbench->input = g_string_new(NULL);
    uvk_bootloader_init(&workbench->bootloader, on_board);
    workbench->bootloader.faults = faults->port;
    if (outlets->drive != NULL) {
        workbench->drive = uvk_drive_new(outlets->drive, on_board, &faults->drive);
    }
    if (outlets->usbip != NULL) {
        workbench->server = uvk_usbip_new(outlets->usbip, error);
        if (workbench->server == NULL) {
            return false;
        }
        printf("a USB/IP server is at port %u\n", uvk_usbip_port(workbench->server));
    }
    if (outlets->usbip != NULL && strcmp(boot_of(workbench), "dfu") == 0) {
        workbench->dfu = make_dfu(workbench, faults);
    }
    if (outlets->serial != NULL) {
        workbench->terminal = uvk_terminal_new(outlets->serial, error);
    }
    return outlets->serial == NULL || workbench->terminal != NULL;
}

void outlets_close(struct workbench *workbench)
{
    uvk_usbip_free(workbench->server);
    uvk_dfu_boot_free(workbench->dfu);
    uvk_terminal_free(workbench->terminal);
    uvk_drive_free(workbench->drive);
    uvk_bootloader_clear(&workbench->bootloader);
    if (workbench->input != NULL) {
        g_string_free(workbench->input, TRUE);
    }
}

/* ---- waiting ---------------------------------------------------------------------------- */

static bool is_taken(const struct workbench *workbench)
{
    return workbench->server != NULL && uvk_usbip_is_taken(workbench->server);
}

/* What a host has asked for just before it left is still done, a restart for one. */
static bool is_going(const struct workbench *workbench)
{
    return is_taken(workbench) || workbench->passed - workbench->taken < PARTED_US;
}

/* Time for a keyboard that a host has; without one it stands still between steps. */
static bool pass_time(struct workbench *workbench, GError **error)
{
    gint64 now = g_get_monotonic_time();
    gint64 since = now - workbench->passed;

    workbench->passed = now;
    if (is_taken(workbench)) {
        workbench->taken = now;
    } else {
        uvk_rig_forget_reports(workbench->rig);
    }
    return !is_going(workbench) ||
           uvk_rig_run(workbench->rig, (uint64_t)MIN(since, (gint64)MOST_US), error);
}

/* The line at the start of what has been typed; NULL: it has no end yet. */
static char *take_line(GString *input, bool ended)
{
    const char *end = memchr(input->str, '\n', input->len);
    gsize size = end != NULL ? (gsize)(end - input->str) : input->len;
    char *line;

    if (end == NULL && (!ended || input->len == 0)) {
        return NULL;
    }
    line = g_strndup(input->str, size);
    g_string_erase(input, 0, (gssize)(size + (end != NULL ? 1 : 0)));
    return line;
}

/* True: there is no more. */
static bool hear_input(struct workbench *workbench)
{
    char bytes[4096];
    ssize_t count = read(STDIN_FILENO, bytes, sizeof bytes);

    if (count > 0) {
        g_string_append_len(workbench->input, bytes, count);
    }
    return count == 0 || (count < 0 && errno != EINTR) || workbench->input->len > INPUT_MOST;
}

/* Wait for input, for a host, or for a little time. True: the input has ended. */
static bool wait_for_any(struct workbench *workbench)
{
    struct pollfd files[1 + UVK_USBIP_FILES] = {{STDIN_FILENO, POLLIN, 0}};
    unsigned count = 1;
    int patience = is_going(workbench) ? TICK_MS : workbench->terminal != NULL ? SLOW_MS : -1;

    if (workbench->server != NULL) {
        count += uvk_usbip_files(workbench->server, files + 1);
    }
    (void)poll(files, count, patience);
    if (workbench->server != NULL) {
        uvk_usbip_serve(workbench->server);
    }
    return files[0].revents != 0 && hear_input(workbench);
}

/* What board: cells do is seen by nothing that the host receives. */
static void tell_restarts(struct workbench *workbench)
{
    unsigned restarts = uvk_rig_restarts(workbench->rig);

    if (restarts > workbench->restarts) {
        puts("the keyboard has restarted");
        unplug_all(workbench);
        plug_keyboard(workbench);
    }
    workbench->restarts = restarts;
}

/* The keyboard went to its bootloader: serve it if it can be reached, else that is the end. */
static bool bootloader_entered(struct workbench *workbench, GError **error)
{
    puts("the keyboard has gone to its bootloader");
    if (workbench->terminal == NULL && workbench->drive == NULL && workbench->dfu == NULL) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                            "nothing runs any more; with --serial PATH, --drive PATH or "
                            "--usbip PORT, as its bootloader is, it can be flashed");
        return false;
    }
    unplug_all(workbench);
    memory_keep(workbench);
    g_clear_pointer(&workbench->rig, uvk_rig_free);
    workbench->seen = 0; /* the host meets a new keyboard */
    return serve_bootloader(workbench, error);
}

/* What has become of the keyboard meanwhile. */
static bool look_after(struct workbench *workbench, GError **error)
{
    bool touched = workbench->terminal != NULL && uvk_terminal_was_touched(workbench->terminal);

    if (touched) {
        uvk_terminal_hide(workbench->terminal);
    }
    if (touched || uvk_rig_in_bootloader(workbench->rig)) {
        return bootloader_entered(workbench, error);
    }
    tell_restarts(workbench);
    return true;
}

char *outlets_next_line(struct workbench *workbench, GError **error)
{
    bool ended = false;
    char *line;

    if (!look_after(workbench, error)) {
        return NULL;
    }
    if (workbench->prompts) {
        fputs("step> ", stdout);
    }
    (void)fflush(stdout);
    if (workbench->server != NULL) {
        uvk_usbip_serve(workbench->server); /* many lines may wait; whoever asks does not */
    }
    while ((line = take_line(workbench->input, ended)) == NULL && !ended) {
        ended = wait_for_any(workbench);
        if (!pass_time(workbench, error) || !look_after(workbench, error)) {
            return NULL;
        }
        print_received(workbench->rig, &workbench->seen, workbench->text);
        (void)fflush(stdout);
    }
    return line;
}
