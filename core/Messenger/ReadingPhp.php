<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/**
 * How PHP is called for a process that reads what is foreign: with the extensions that it needs and no other (nothing
 * that draws, calls over a network or reaches into memory is there to be misled), and with what was compiled before.
 */
final readonly class ReadingPhp
{
    /**
     * @param string       $script     full path
     * @param list<string> $extensions beside those that are built in
     * @param string|null  $compiled   folder for what was compiled, of this user alone; null: compiled each time
     */
    public function __construct(private string $script, private array $extensions, private ?string $compiled = null)
    {
    }

    /** @return non-empty-list<string> */
    public function command(): array
    {
        $command = [
            \PHP_BINARY, '-n', '-d', 'display_errors=stderr', '-d', 'log_errors=0', '-d', 'memory_limit=-1',
        ];
        foreach ($this->extensions as $extension) {
            if (self::isSeparate($extension)) {
                array_push($command, '-d', 'extension='.$extension);
            }
        }
        // What can't be kept costs time alone. PHP would not start with a folder that it can't write to.
        if (null !== $this->compiled && self::isSeparate('opcache')
            && (is_dir($this->compiled) || @mkdir($this->compiled, 0o700, true)) && is_writable($this->compiled)
        ) {
            array_push(
                $command, '-d', 'zend_extension=opcache', '-d', 'opcache.enable_cli=1', '-d', 'opcache.jit=disable',
                '-d', 'opcache.file_cache_only=1', '-d', 'opcache.file_cache='.$this->compiled,
            );
        }

        return [...$command, $this->script];
    }

    private static function isSeparate(string $extension): bool
    {
        return is_file(\PHP_EXTENSION_DIR.'/'.$extension.'.'.\PHP_SHLIB_SUFFIX);
    }
}
