<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Platform;
use Geschenk\Core\UnusableInput;

/** All storage formats, found by their folders: Messenger/<Name>/<Platform>/<Platform>Format.php. */
final class Formats
{
    /** @var list<Format>|null */
    private ?array $formats = null;

    /** @return list<Format> */
    public function all(): array
    {
        if (null === $this->formats) {
            $this->formats = [];
            foreach (glob(__DIR__.'/*/*/*Format.php') ?: [] as $file) {
                $class = __NAMESPACE__.str_replace('/', '\\', substr($file, strlen(__DIR__), -4));
                $format = new $class();
                if ($format instanceof Format) {
                    $this->formats[] = $format;
                }
            }
        }

        return $this->formats;
    }

    /** @throws UnusableInput when the data is recognised and can't be used */
    public function detect(string $folder): ?Format
    {
        foreach ($this->all() as $format) {
            if ($format->detect($folder)) {
                return $format;
            }
        }

        return null;
    }

    /** @return array<string, App> all apps that some format knows, by id */
    public function apps(): array
    {
        $apps = [];
        foreach ($this->all() as $format) {
            foreach ($format->apps() as $app) {
                $apps[$app->id] = $app;
            }
        }

        return $apps;
    }

    /** @return list<string> names of all files that hold chats themselves, of whatever format */
    public function databaseFiles(): array
    {
        return array_values(
            array_unique(
                array_merge(...array_map(static fn (Format $format): array => $format->databaseFiles(), $this->all())),
            ),
        );
    }

    public function byClass(string $class): ?Format
    {
        foreach ($this->all() as $format) {
            if ($format::class === $class) {
                return $format;
            }
        }

        return null;
    }

    /** The format that a messenger is written in on a platform: of several generations the one that has a writer. */
    public function writing(string $messenger, Platform $platform): ?Format
    {
        foreach ($this->all() as $format) {
            if ($format->messenger() === $messenger && $format->platform() === $platform
                && null !== $format->writer()) {
                return $format;
            }
        }

        return null;
    }
}
