<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Entity\User;
use Geschenk\App\Refusal;
use Geschenk\App\Security\Staff;
use Geschenk\App\Words\Words;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/** The users of a shop, for whoever may start commands on its computer; the log says so. */
#[AsCommand('user', 'Adds a user, gives one another password, or ends that one signs in')]
final class UserCommand extends Command
{
    use AsksPassphrase;
    use ReportsUnusableInput;

    private const BY = 'console';

    public function __construct(
        private readonly Staff $staff,
        private readonly Words $words,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('act', InputArgument::REQUIRED, 'add, password, disable or enable')
            ->addArgument('name', InputArgument::REQUIRED, 'what they sign in as')
            ->addOption('display-name', null, InputOption::VALUE_REQUIRED, 'what others read; the name, if not told')
            ->addOption('manager', null, InputOption::VALUE_NONE, 'may read the log too')
            ->addOption('wall', null, InputOption::VALUE_NONE, 'a screen above the bench, and nobody')
            ->setHelp('A password is asked for, or read as the first line of the standard input.');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->answer($output, function () use ($input, $output): int {
            $act = $input->getArgument('act');
            $name = $input->getArgument('name');
            $name = is_string($name) ? $name : '';
            $done = match ($act) {
                'add' => $this->add($name, $input, $output),
                'password' => $this->password($name, $input, $output),
                'disable' => $this->disable($name, true),
                'enable' => $this->disable($name, false),
                default => throw Refusal::because('user_act'),
            };
            $output->writeln($this->words->say('log.'.$done, ['name' => $name]));

            return Command::SUCCESS;
        });
    }

    private function add(string $name, InputInterface $input, OutputInterface $output): string
    {
        $shown = $input->getOption('display-name');
        $role = true === $input->getOption('manager') ? User::MANAGER : User::TECHNICIAN;
        $role = true === $input->getOption('wall') ? User::WALL : $role;
        $told = self::asked('Password', $input, $output);
        $this->staff->add($name, is_string($shown) ? $shown : '', $role, $told, self::BY);

        return 'user_added';
    }

    private function password(string $name, InputInterface $input, OutputInterface $output): string
    {
        $this->staff->changePassword($name, self::asked('Password', $input, $output), self::BY);

        return 'user_password';
    }

    private function disable(string $name, bool $isDisabled): string
    {
        $this->staff->disable($name, $isDisabled, self::BY);

        return $isDisabled ? 'user_disabled' : 'user_enabled';
    }
}
