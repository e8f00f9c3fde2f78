<?php

declare(strict_types=1);

namespace Geschenk\App;

use Symfony\Bundle\FrameworkBundle\Kernel\MicroKernelTrait;
use Symfony\Component\HttpKernel\Kernel as BaseKernel;

final class Kernel extends BaseKernel
{
    use MicroKernelTrait;

    public function __construct(string $environment, bool $debug)
    {
        // Records are in UTC whatever php.ini says: an hour that a zone repeats has happened once.
        date_default_timezone_set('UTC');
        // Whoever starts it and however: what it writes is for its own user alone.
        umask(0o077);
        parent::__construct($environment, $debug);
    }

    /** Where an installation keeps what it may lose; beside the code if nothing is told (docs/installation.md). */
    public function getCacheDir(): string
    {
        $told = getenv('GESCHENK_CACHE');

        return false === $told || '' === $told ? parent::getCacheDir() : $told.'/'.$this->environment;
    }

    public function getLogDir(): string
    {
        $told = getenv('GESCHENK_LOGS');

        return false === $told || '' === $told ? parent::getLogDir() : $told;
    }
}
