<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost;

use Geschenk\Core\Messenger\App;

/** Otterpost's editions by the names that its databases and our chat stores hold. */
final class Edition
{
    public const ORDINARY = 'Otterpost';
    public const COUNTER = 'Otterpost Counter';
    /** The unofficial rebuild, whose chats move into the ordinary edition. */
    public const REBUILD = 'OtterPlus';

    /** The apps on the phones by their ids; a rebuild is installed in the place of the ordinary one. */
    private const APPS = ['otterpost' => self::ORDINARY, 'otterpost.counter' => self::COUNTER];

    public const ALL = [self::ORDINARY, self::COUNTER, self::REBUILD];
    public const WRITTEN_AS = [
        self::ORDINARY => self::ORDINARY, self::COUNTER => self::COUNTER, self::REBUILD => self::ORDINARY,
    ];

    /** What an edition that nobody knows is written as: without labels and ready-made answers, and with such. */
    public const OTHERS_WRITTEN_AS = [self::ORDINARY, self::COUNTER];

    /** @return non-empty-list<App> */
    public static function apps(): array
    {
        $apps = [];
        foreach (self::APPS as $id => $edition) {
            $apps[] = new App($id, $edition);
        }

        return $apps;
    }

    /** The edition of the official messenger that chats of an edition move into. */
    public static function official(string $edition): string
    {
        return self::COUNTER === $edition ? self::COUNTER : self::ORDINARY;
    }
}
