<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Form;

use Geschenk\App\ReadingCopy\CopyContext;
use Geschenk\App\ReadingCopy\Form;
use Geschenk\Core\Progress;
use Symfony\Component\DependencyInjection\Attribute\AsTaggedItem;

/** The attachments alone, in folders by kind: they lie beside whatever leads to them, so there is no more to write. */
#[AsTaggedItem(priority: 40)]
final class FilesForm implements Form
{
    public static function name(): string
    {
        return 'files';
    }

    public static function usesFiles(): bool
    {
        return true;
    }

    public static function bytes(int $messages, int $files): int
    {
        return 0;
    }

    public function write(CopyContext $of, Progress $progress): void
    {
    }
}
