<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\DataFolder;
use Geschenk\App\Refusal;
use Geschenk\App\Security\ShopKey;
use Geschenk\App\Words\Words;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Seal\KeyFailure;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('shop:key', 'Changes the passphrase or the file that opens what the shop keeps; nothing is written anew')]
final class ShopKeyCommand extends Command
{
    use AsksPassphrase;
    use ReportsUnusableInput;

    public function __construct(
        private readonly ShopKey $key,
        private readonly DataFolder $data,
        private readonly Words $words,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('file', null, InputOption::VALUE_REQUIRED, 'A key file instead; made if need be')
            ->setHelp('Passphrases are asked for, or read as lines of the standard input: the one until now, then the '
                .'new one twice.');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->answer($output, function () use ($input, $output): int {
            $this->key->isMade() ?: throw KeyFailure::lost();
            // Whoever works with the one until now would open nothing from then on.
            $running = Disk::open($this->data->path.'/running', 'c');
            flock($running, \LOCK_EX | \LOCK_NB) ?: throw Refusal::because('shop_is_open');
            $scratch = ScratchFolder::make(1);
            $now = $this->key->file();
            if (!$this->key->isInFile()) {
                $this->key->isPassphrase() ?: throw Refusal::because('key_is_in_file');
                $now = $scratch->path.'/now';
                $this->key->takePassphrase(
                    self::asked($this->words->say('key.until_now'), $input, $output), $now,
                );
            }
            $file = $input->getOption('file');
            if (is_string($file)) {
                $this->key->changeToFile($now, $file);
            } else {
                $new = self::asked($this->words->say('key.new'), $input, $output);
                $new === self::asked($this->words->say('key.again'), $input, $output)
                    ?: throw Refusal::because('passphrase_other');
                $this->key->changeToPassphrase($now, $new);
            }
            fclose($running);
            $output->writeln($this->words->say('key.changed'));

            return Command::SUCCESS;
        });
    }
}
