<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Chat\Kind;

/** Kinds of messages as people choose them: by the files that take the room. Text is always brought. */
enum FileGroup: string
{
    case Photos = 'photos';
    case Videos = 'videos';
    case Voice = 'voice';
    case Documents = 'documents';
    case Stickers = 'stickers';

    /** @return non-empty-list<Kind> */
    public function kinds(): array
    {
        return match ($this) {
            self::Photos => [Kind::Photo, Kind::Animation],
            self::Videos => [Kind::Video, Kind::RoundNote],
            self::Voice => [Kind::Voice, Kind::Audio],
            self::Documents => [Kind::Document],
            self::Stickers => [Kind::Sticker],
        };
    }

    /** SQL that names the group of a `kind` column; NULL where it is in none. */
    public static function ofColumn(string $column): string
    {
        $cases = '';
        foreach (self::cases() as $group) {
            foreach ($group->kinds() as $kind) {
                $cases .= sprintf(" WHEN '%s' THEN '%s'", $kind->value, $group->value);
            }
        }

        return "CASE $column$cases END";
    }
}
