/* host_keys.c - see host_keys.h. */
#include "host_keys.h"

#include <string.h>

#define KEYS 48u

/* The keys of the tables in the order of the eye: four lines of an ISO board. */
static const uint8_t order[KEYS] = {
    0x35, 0x1E, 0x1F, 0x20, 0x21, 0x22, 0x23, 0x24, 0x25, 0x26, 0x27, 0x2D, 0x2E, /* 1 to 0 */
    0x14, 0x1A, 0x08, 0x15, 0x17, 0x1C, 0x18, 0x0C, 0x12, 0x13, 0x2F, 0x30,       /* q to p */
    0x04, 0x16, 0x07, 0x09, 0x0A, 0x0B, 0x0D, 0x0E, 0x0F, 0x33, 0x34, 0x31,       /* a to l */
    0x64, 0x1D, 0x1B, 0x06, 0x19, 0x05, 0x11, 0x10, 0x36, 0x37, 0x38};            /* z to m */

/* Dead keys. */
#define GRAVE "\u0300"
#define ACUTE "\u0301"
#define CIRC  "\u0302"
#define TILDE "\u0303"
#define DIAER "\u0308"

struct host_keys {
    enum uvk_system system;
    const char *layout;
    const char *level[HOST_LEVELS]; /* a character a key; a blank is not known */
    const char *alone;              /* what dead keys give with a blank: pairs */
};

/* What every key gives. The keys left of 1 and of z change places on some keyboards of a Mac
 * with an ISO layout: they are not known there. */
static const struct host_keys tables[] = {
    {UVK_WINDOWS,
     "us",
     {"`1234567890-=qwertyuiop[]asdfghjkl;'\\\\zxcvbnm,./",
      "~!@#$%^&*()_+QWERTYUIOP{}ASDFGHJKL:\"||ZXCVBNM<>?", NULL, NULL},
     ""},
    {UVK_WINDOWS,
     "uk",
     {"`1234567890-=qwertyuiop[]asdfghjkl;'#\\zxcvbnm,./",
      "¬!\"£$%^&*()_+QWERTYUIOP{}ASDFGHJKL:@~|ZXCVBNM<>?",
      "¦   €          é   úíó   á                      ",
      "               É   ÚÍÓ   Á                      "},
     ""},
    {UVK_WINDOWS,
     "de",
     {CIRC "1234567890ß" ACUTE "qwertzuiopü+asdfghjklöä#<yxcvbnm,.-",
      "°!\"§$%&/()=?" GRAVE "QWERTZUIOPÜ*ASDFGHJKLÖÄ'>YXCVBNM;:_",
      "  ²³   {[]}\\ @ €        ~            |      µ   ", NULL},
     CIRC "^" ACUTE "´" GRAVE "`"},
    {UVK_WINDOWS,
     "fr",
     {"²&é\"'(-è_çà)=azertyuiop" CIRC "$qsdfghjklmù*<wxcvbn,;:!",
      " 1234567890°+AZERTYUIOP" DIAER "£QSDFGHJKLM%µ>WXCVBN?./§",
      "  " TILDE "#{[|" GRAVE "\\^@]}  €        ¤                       ", NULL},
     CIRC "^" DIAER "¨" TILDE "~" GRAVE "`"},
    {UVK_WINDOWS,
     "es",
     {"º1234567890'¡qwertyuiop" GRAVE "+asdfghjklñ" ACUTE "ç<zxcvbnm,.-",
      "ª!\"·$%&/()=?¿QWERTYUIOP" CIRC "*ASDFGHJKLÑ" DIAER "Ç>ZXCVBNM;:_",
      "\\|@#" TILDE " ¬        €       []          {}           ", NULL},
     GRAVE "`" ACUTE "´" CIRC "^" DIAER "¨" TILDE "~"},
    {UVK_WINDOWS,
     "it",
     {"\\1234567890'ìqwertyuiopè+asdfghjklòàù<zxcvbnm,.-",
      "|!\"£$%&/()=?^QWERTYUIOPé*ASDFGHJKLç°§>ZXCVBNM;:_",
      "     €         €       []         @#            ",
      "                       {}                       "},
     ""},
    {UVK_WINDOWS,
     "pt",
     {"\\1234567890'«qwertyuiop+" ACUTE "asdfghjklçº" TILDE "<zxcvbnm,.-",
      "|!\"#$%&/()=?»QWERTYUIOP*" GRAVE "ASDFGHJKLÇª" CIRC ">ZXCVBNM;:_",
      "  @£§€ {[]}    €       " DIAER "                        ", NULL},
     ACUTE "´" GRAVE "`" TILDE "~" CIRC "^" DIAER "¨"},
    {UVK_WINDOWS,
     "se",
     {"§1234567890+" ACUTE "qwertyuiopå" DIAER "asdfghjklöä'<zxcvbnm,.-",
      "½!\"#¤%&/()=?" GRAVE "QWERTYUIOPÅ" CIRC "ASDFGHJKLÖÄ*>ZXCVBNM;:_",
      "  @£$€ {[]}\\   €        " TILDE "            |      µ   ", NULL},
     ACUTE "´" GRAVE "`" DIAER "¨" CIRC "^" TILDE "~"},
    {UVK_WINDOWS,
     "dvorak",
     {"`1234567890[]',.pyfgcrl/=aoeuidhtns-\\ ;qjkxbmwvz",
      "~!@#$%^&*(){}\"<>PYFGCRL?+AOEUIDHTNS_| :QJKXBMWVZ", NULL, NULL},
     ""},
    {UVK_WINDOWS,
     "colemak",
     {"`1234567890-=qwfpgjluy;[]arstdhneio'\\ zxcvbkm,./",
      "~!@#$%^&*()_+QWFPGJLUY:{}ARSTDHNEIO\"| ZXCVBKM<>?", NULL, NULL},
     ""},
    {UVK_MAC,
     "us",
     {"`1234567890-=qwertyuiop[]asdfghjkl;'\\ zxcvbnm,./",
      "~!@#$%^&*()_+QWERTYUIOP{}ASDFGHJKL:\"| ZXCVBNM<>?",
      GRAVE "¡™£¢∞§¶•ªº–≠œ∑" ACUTE "®†¥" DIAER CIRC "øπ“‘åß∂ƒ©˙∆˚¬…æ« Ω≈ç√∫" TILDE "µ≤≥÷",
      "  €‹›ﬁﬂ‡°  — Œ       Ø ”’Å         Æ»   Ç      ¿"},
     GRAVE "`" ACUTE "´"},
    {UVK_MAC,
     "uk",
     {" 1234567890-=qwertyuiop[]asdfghjkl;'\\ zxcvbnm,./",
      " !@£$%^&*()_+QWERTYUIOP{}ASDFGHJKL:\"| ZXCVBNM<>?",
      " ¡€#¢∞§¶•ªº–≠œ " ACUTE "® ¥" DIAER CIRC "øπ“‘åß  ©    …æ«   ç  " TILDE "   ÷",
      "        °  — Œ       Ø ”’Å         Æ»   Ç      ¿"},
     ACUTE "´"},
    {UVK_MAC,
     "de",
     {" 1234567890ß" ACUTE "qwertzuiopü+asdfghjklöä# yxcvbnm,.-",
      " !\"§$%&/()=?" GRAVE "QWERTZUIOPÜ*ASDFGHJKLÖÄ' YXCVBNM;:_",
      "     []|{}     €®  " DIAER "         ©   @         " TILDE "  …–",
      "       \\                                       —"},
     ACUTE "´" GRAVE "`" TILDE "~" DIAER "¨"},
    {UVK_MAC,
     "fr",
     {" &é\"'(§è!çà)-azertyuiop" CIRC "$qsdfghjklmù` wxcvbn,;:=",
      " 1234567890°_AZERTYUIOP" DIAER "*QSDFGHJKLM%£ WXCVBN?./+",
      "     {     }            €               ©  " TILDE "    ",
      "     [     ]                     |            \\ "},
     CIRC "^" DIAER "¨" TILDE "~"},
    {UVK_MAC,
     "es",
     {" 1234567890'¡qwertyuiop" GRAVE "+asdfghjklñ" ACUTE "ç zxcvbnm,.-",
      " !\"·$%&/()=?¿QWERTYUIOP" CIRC "*ASDFGHJKLÑ" DIAER "Ç ZXCVBNM;:_",
      " |@#           €       []         " TILDE "{}           ", NULL},
     GRAVE "`" ACUTE "´" CIRC "^" DIAER "¨" TILDE "~"},
    {UVK_MAC,
     "it",
     {" 1234567890'ìqwertyuiopè+asdfghjklòàù zxcvbnm,.-",
      " !\"£$%&/()=?^QWERTYUIOPé*ASDFGHJKLç°§ ZXCVBNM;:_",
      "                       []         @#            ",
      "                       {}                       "},
     ""},
    {UVK_MAC,
     "pt",
     {" 1234567890'+qwertyuiopº" ACUTE "asdfghjklç" TILDE "\\ zxcvbnm,.-",
      " !\"#$%&/()=?*QWERTYUIOPª" GRAVE "ASDFGHJKLÇ" CIRC "| ZXCVBNM;:_", NULL, NULL},
     ACUTE "´" GRAVE "`" TILDE "~" CIRC "^"},
    {UVK_MAC,
     "se",
     {" 1234567890+" ACUTE "qwertyuiopå" DIAER "asdfghjklöä' zxcvbnm,.-",
      " !\"#€%&/()=?" GRAVE "QWERTYUIOPÅ" CIRC "ASDFGHJKLÖÄ* ZXCVBNM;:_",
      "  @£$  |[]                                      ",
      "       \\{}                                      "},
     ACUTE "´" GRAVE "`" DIAER "¨" CIRC "^"},
    {UVK_MAC,
     "dvorak",
     {"`1234567890[]',.pyfgcrl/=aoeuidhtns-\\ ;qjkxbmwvz",
      "~!@#$%^&*(){}\"<>PYFGCRL?+AOEUIDHTNS_| :QJKXBMWVZ", NULL, NULL},
     ""},
    {UVK_MAC,
     "colemak",
     {"`1234567890-=qwfpgjluy;[]arstdhneio'\\ zxcvbkm,./",
      "~!@#$%^&*()_+QWFPGJLUY:{}ARSTDHNEIO\"| ZXCVBKM<>?", NULL, NULL},
     ""},
};

const struct host_keys *host_keys_of(enum uvk_system system, const char *layout)
{
    for (size_t i = 0; i < G_N_ELEMENTS(tables); i++) {
        if (tables[i].system == system && strcmp(tables[i].layout, layout) == 0) {
            return &tables[i];
        }
    }
    return NULL;
}

/* Enter, tab and space are the same everywhere. */
static gunichar common_at(uint8_t usage, unsigned level)
{
    switch (usage) {
    case 0x28:
        return level < 2 ? '\n' : 0;
    case 0x2B:
        return level == 0 ? '\t' : 0;
    case 0x2C:
        return level < 2 ? ' ' : 0;
    default:
        return 0;
    }
}

gunichar host_keys_at(const struct host_keys *keys, uint8_t usage, unsigned level)
{
    const char *at = level < HOST_LEVELS ? keys->level[level] : NULL;
    unsigned index = 0;

    usage = usage == 0x32 ? 0x31 : usage; /* one key, beside enter or above it */
    while (index < KEYS && order[index] != usage) {
        index++;
    }
    if (index == KEYS) {
        return common_at(usage, level);
    }
    for (; at != NULL && index > 0; index--) {
        at = g_utf8_next_char(at);
    }
    return at == NULL || *at == ' ' ? 0 : g_utf8_get_char(at);
}

gunichar host_keys_compose(const struct host_keys *keys, gunichar dead, gunichar base)
{
    /* what every layout that has the dead key makes of it */
    static const struct {
        gunichar dead;
        const char *bases;
    } letters[] = {{0x300, "aeiouAEIOU"},
                   {0x301, "aeiouAEIOU"},
                   {0x302, "aeiouAEIOU"},
                   {0x303, "anoANO"},
                   {0x308, "aeiouyAEIOU"}};
    gunichar made = 0;

    for (size_t i = 0; i < G_N_ELEMENTS(letters); i++) {
        if (letters[i].dead == dead && base < 0x80 && base > ' ' &&
            strchr(letters[i].bases, (int)base) != NULL &&
            g_unichar_compose(base, dead, &made)) {
            return made;
        }
    }
    for (const char *at = keys->alone; base == ' ' && *at != '\0';) {
        gunichar found = g_utf8_get_char(at);
        at = g_utf8_next_char(at);
        if (found == dead) {
            return g_utf8_get_char(at);
        }
        at = g_utf8_next_char(at);
    }
    return 0;
}

bool host_keys_have_third(const struct host_keys *keys)
{
    return keys->level[2] != NULL;
}
