<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\Archive\Workplace;
use Geschenk\Core\Hindrance;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\PullJournal;

/** What is imported: where it lies, what opens it, and where it goes. */
final readonly class Carried
{
    /** What errors call it. */
    public const NAME = '@imported';

    /**
     * @param \Closure(): string $root the folder that it lies in, as it is there now; throws a Hindrance while it is
     *                                 not
     * @param string             $path below that
     */
    public function __construct(
        private \Closure $root,
        public string $path,
        public Workplace $place,
        public PullJournal $journal,
        public ChatReading $reading,
        public Progress $progress,
        #[\SensitiveParameter] public ?BackupKey $key = null,
        public Chosen $chosen = new Chosen(),
    ) {
    }

    /** @throws Hindrance */
    public function root(): string
    {
        return ($this->root)();
    }

    /** @throws Hindrance */
    public function full(): string
    {
        return $this->root().('' === $this->path ? '' : '/'.$this->path);
    }

    /** @return string the folder that it lies in, below the root; "" for the root itself */
    public function folder(): string
    {
        return str_contains($this->path, '/') ? dirname($this->path) : '';
    }
}
