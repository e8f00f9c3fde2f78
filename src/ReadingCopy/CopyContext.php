<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy;

use Geschenk\Core\ReadingCopy\CopyFolder;
use Geschenk\Core\ReadingCopy\Extract;
use Geschenk\Core\ReadingCopy\FilePlaces;
use Geschenk\Core\ReadingCopy\Spoilt;
use Geschenk\Core\Store\StoredMessage;

/**
 * What a form of copies is written with.
 *
 * @phpstan-type Of array{
 *     backup: string, fingerprint: string, edition: string, account: string, taken_at: \DateTimeImmutable,
 *     customer: string,
 * }
 */
final readonly class CopyContext
{
    /**
     * @param string $language of whoever takes it home, BCP 47
     * @param Of     $of
     */
    public function __construct(
        public Extract $extract,
        public FilePlaces $places,
        public CopyFolder $folder,
        public Told $told,
        public string $language,
        public array $of,
        public Spoilt $spoilt = new Spoilt(),
        public Printed $printed = new Printed(),
    ) {
    }

    /**
     * @param int $place of the attachment in its message, from 0
     *
     * @return string|null where its file lies in the copy; null where it does not
     */
    public function file(StoredMessage $message, int $place): ?string
    {
        $path = $this->places->of($message, $place);

        return null === $path || $this->spoilt->has($path) ? null : $path;
    }

    /** Whether the backup had it, and lost it on the shop's disk. */
    public function isSpoilt(StoredMessage $message, int $place): bool
    {
        return $this->spoilt->has($this->places->of($message, $place) ?? '');
    }
}
