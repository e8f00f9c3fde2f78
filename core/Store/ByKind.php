<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/** What people look for through all conversations, and how a store is asked for it. */
enum ByKind: string
{
    case Photos = 'photos';
    case Videos = 'videos';
    case Voice = 'voice';
    case Documents = 'documents';
    case Links = 'links';
    case Places = 'places';

    /** SQL that is true of its messages, of columns of `message m`. */
    public function condition(): string
    {
        return match ($this) {
            self::Photos => "m.kind IN ('photo', 'animation')",
            self::Videos => "m.kind IN ('video', 'round_note')",
            self::Voice => "m.kind IN ('voice', 'audio')",
            self::Documents => "m.kind = 'document'",
            self::Links => "m.kind <> 'deleted' AND (m.details LIKE '%\"sort\":\"link_preview\"%' "
                ."OR m.body LIKE '%http://%' OR m.body LIKE '%https://%')",
            self::Places => "m.kind IN ('place', 'live_place')",
        };
    }
}
