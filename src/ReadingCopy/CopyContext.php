<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy;

use Geschenk\Core\ReadingCopy\CopyFolder;
use Geschenk\Core\ReadingCopy\Extract;
use Geschenk\Core\ReadingCopy\FilePlaces;

/**
 * What a form of copies is written with.
 *
 * @phpstan-type Of array{
 *     backup: string, edition: string, account: string, taken_at: \DateTimeImmutable, customer: string,
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
    ) {
    }
}
