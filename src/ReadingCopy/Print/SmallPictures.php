<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Print;

use Geschenk\App\Surroundings;
use Geschenk\Core\Messenger\ReadingPhp;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Process\Exception\ExceptionInterface;
use Symfony\Component\Process\Process;

/**
 * Pictures as a page has them. What a phone brought is decoded in a process of its own, which has no file and no key,
 * and whose time and memory are bounded; what comes of it is a picture of ours.
 */
final readonly class SmallPictures
{
    /** Bytes of one that is looked at. */
    public const BYTES = 40_000_000;
    private const SECONDS = 30;
    private const EXTENSIONS = ['gd', 'mbstring', 'exif', 'posix'];

    private ReadingPhp $php;

    public function __construct(
        #[Autowire('%kernel.project_dir%/bin/draw-small')] string $script,
        #[Autowire('%kernel.cache_dir%/compiled')] string $compiled,
    ) {
        $this->php = new ReadingPhp($script, self::EXTENSIONS, $compiled);
    }

    /** @return string|null JPEG; null where it is none that could be drawn */
    public function of(string $picture): ?string
    {
        if (strlen($picture) > self::BYTES) {
            return null;
        }
        $process = new Process($this->php->command(), '/', Surroundings::only(), $picture, self::SECONDS);
        try {
            $process->run();
        } catch (ExceptionInterface) {
            // It took too long, or was ended.
            return null;
        }
        $drawn = $process->getOutput();

        return $process->isSuccessful() && str_starts_with($drawn, "\xFF\xD8") && str_ends_with($drawn, "\xFF\xD9")
            ? $drawn
            : null;
    }
}
