<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Platform;
use Geschenk\Core\UnusableInput;

/** All storage formats, found by their folders: <Name>/<Platform>/<Platform>Format.php. */
final class Formats
{
    /** @var list<Format>|null */
    private ?array $formats = null;

    /** @param array<string, string> $roots namespace by the folder that the messengers' folders lie in */
    public function __construct(private readonly array $roots = [__DIR__ => __NAMESPACE__])
    {
    }

    /** @return list<Format> */
    public function all(): array
    {
        if (null === $this->formats) {
            $this->formats = [];
            foreach ($this->roots as $root => $namespace) {
                foreach (glob($root.'/*/*/*Format.php') ?: [] as $file) {
                    $class = $namespace.str_replace('/', '\\', substr($file, strlen($root), -4));
                    $format = new $class();
                    if ($format instanceof Format) {
                        $this->formats[] = $format;
                    }
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
            foreach ($format->messenger()->apps as $app) {
                $apps[$app->id] = $app;
            }
        }

        return $apps;
    }

    /** @return list<Format> those that an app's data on a phone may be of */
    public function of(string $app, Platform $platform): array
    {
        return array_values(array_filter(
            $this->all(),
            static fn (Format $format): bool => $format->platform() === $platform
                && null !== $format->messenger()->app($app),
        ));
    }

    /** @return int bytes of all files in a folder that hold chats, of whatever format */
    public function chatBytes(string $folder): int
    {
        $bytes = [];
        foreach ($this->all() as $format) {
            foreach ($format->chatFiles()->in($folder) as $path) {
                $bytes[$path] ??= (int) @filesize($folder.'/'.$path);
            }
        }

        return array_sum($bytes);
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
            if ($format->messenger()->name === $messenger && $format->platform() === $platform
                && null !== $format->writer()) {
                return $format;
            }
        }

        return null;
    }
}
