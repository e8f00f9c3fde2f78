<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost;

use Geschenk\Core\Messenger\Messenger;
use Geschenk\Core\Store\StoreWriter;

/** Otterpost, its apps and its editions by the names that its databases and our chat stores hold. */
final class Otterpost
{
    public const NAME = 'Otterpost';

    public const ORDINARY = 'Otterpost';
    public const COUNTER = 'Otterpost Counter';
    /** The unofficial rebuild, installed in the place of the ordinary edition, into which its chats move. */
    public const REBUILD = 'OtterPlus';

    public static function messenger(): Messenger
    {
        return new Messenger(
            self::NAME, ['otterpost' => self::ORDINARY, 'otterpost.counter' => self::COUNTER],
            [self::COUNTER], [self::REBUILD => self::ORDINARY],
        );
    }

    /**
     * The edition that a database names; one that nobody knows is listed, and so is none.
     *
     * @param string|null $told  what stands there
     * @param string      $seems what the rest of the database looks like
     */
    public static function edition(?string $told, string $seems, string $subject, StoreWriter $store): string
    {
        if (null !== $told && self::messenger()->knows($told)) {
            return $told;
        }
        $store->finding(null === $told ? 'value_absent' : 'unknown_edition', $subject, $told);

        return $told ?? $seems;
    }
}
